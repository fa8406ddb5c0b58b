/** The standard heart-rate service, as the browser offers it: a strap that is worn near this screen. */

interface Characteristic extends EventTarget {
  value?: DataView;
  startNotifications(): Promise<Characteristic>;
}
interface Server {
  getPrimaryService(name: string): Promise<{ getCharacteristic(name: string): Promise<Characteristic> }>;
  disconnect(): void;
}
export interface Device extends EventTarget {
  name?: string;
  gatt?: { connect(): Promise<Server> };
}
export interface Bluetooth {
  requestDevice(wanted: { filters: { services: string[] }[] }): Promise<Device>;
}

const SERVICE = "heart_rate";
const MEASUREMENT = "heart_rate_measurement";

/** What this browser has to read straps with, if anything. */
export const bluetooth = (): Bluetooth | undefined => (navigator as { bluetooth?: Bluetooth }).bluetooth;

/**
 * Beats a minute of a measurement; null where the strap says that it touches nobody.
 *
 * The first byte says how it is written: bit 0 that the value has 16 bits, bits 1 and 2 whether the strap knows of skin
 * contact and has it (Bluetooth SIG, Heart Rate Service 1.0, section 3.1).
 */
export function beats(data: DataView): number | null {
  const flags = data.getUint8(0);
  if ((flags & 0b110) === 0b100) return null;
  const value = flags & 1 ? data.getUint16(1, true) : data.getUint8(1);
  return value > 0 ? value : null;
}

export interface Strap {
  name: string;
  stop: () => void;
}

/** Let somebody choose a strap, and hear every beat it tells until it is stopped or gone. */
export async function listen(
  from: Bluetooth,
  onBeat: (bpm: number | null) => void,
  onGone: () => void,
): Promise<Strap> {
  const device = await from.requestDevice({ filters: [{ services: [SERVICE] }] });
  const server = await device.gatt?.connect();
  if (!server) throw new Error("This strap cannot be reached.");
  const service = await server.getPrimaryService(SERVICE);
  const measured = await service.getCharacteristic(MEASUREMENT);
  const heard = () => {
    if (measured.value) onBeat(beats(measured.value));
  };
  device.addEventListener("gattserverdisconnected", onGone);
  measured.addEventListener("characteristicvaluechanged", heard);
  await measured.startNotifications();
  return {
    name: device.name || "strap",
    stop: () => {
      device.removeEventListener("gattserverdisconnected", onGone);
      measured.removeEventListener("characteristicvaluechanged", heard);
      server.disconnect();
    },
  };
}
