/** A ULID made in the browser: the server takes the same one twice as one. */

const LETTERS = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";

export function ulid(): string {
  let time = Date.now();
  let text = "";
  for (let i = 0; i < 10; i++) {
    text = LETTERS.charAt(time % 32) + text;
    time = Math.floor(time / 32);
  }
  for (const byte of crypto.getRandomValues(new Uint8Array(16))) text += LETTERS.charAt(byte % 32);
  return text;
}
