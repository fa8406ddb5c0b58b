/** The body map's shapes: our own drawing, in a frame of 120 by 262. The viewer's left half; the other half mirrors it. */

import type { Site } from "../../api/client";

export type View = "front" | "back";
export type Side = "left" | "right";

export interface Region {
  site: Site;
  side: Side | null;
  path: string;
  mirrored: boolean;
}

const oval = (x: number, y: number, rx: number, ry: number) =>
  `M${x - rx} ${y}a${rx} ${ry} 0 1 0 ${rx * 2} 0a${rx} ${ry} 0 1 0 ${-rx * 2} 0Z`;

const MIDDLE: Record<View, [Site, string][]> = {
  front: [
    ["head", oval(60, 20, 13, 16)],
    ["neck", "M54 35h12v9h-12Z"],
    ["chest", "M46 46h28q3 0 3 4l-2 33h-30l-2-33q0-4 3-4Z"],
    ["belly", "M45 85h30l-1 31h-28Z"],
  ],
  back: [
    ["head", oval(60, 20, 13, 16)],
    ["neck", "M54 35h12v9h-12Z"],
    ["upper back", "M46 46h28q3 0 3 4l-2 33h-30l-2-33q0-4 3-4Z"],
    ["lower back", "M45 85h30l-1 29h-28Z"],
  ],
};

const HALF: Record<View, [Site, string][]> = {
  front: [
    ["shoulder", oval(37, 54, 10, 9)],
    ["upper arm", "M27 65q6-3 12 0l-2 26q-5 3-10 0Z"],
    ["elbow", oval(31, 98, 7, 7)],
    ["forearm", "M25 106q6 2 11 0l-3 25q-4 2-9 0Z"],
    ["wrist or hand", oval(27, 143, 7, 10)],
    ["hip or groin", "M46 118h13v15l-3 4h-12Z"],
    ["front of the thigh", "M43 139h16l-2 37h-12Z"],
    ["knee", oval(51, 185, 8, 8)],
    ["shin", "M45 194h12l-2 36h-8Z"],
    ["ankle", oval(51, 236, 6, 5)],
    ["foot", "M46 243h10l1 9q-1 5-7 5h-7q-3-1-1-4Z"],
  ],
  back: [
    ["shoulder", oval(37, 54, 10, 9)],
    ["upper arm", "M27 65q6-3 12 0l-2 26q-5 3-10 0Z"],
    ["elbow", oval(31, 98, 7, 7)],
    ["forearm", "M25 106q6 2 11 0l-3 25q-4 2-9 0Z"],
    ["wrist or hand", oval(27, 143, 7, 10)],
    ["buttock", "M46 116h13v22h-16Z"],
    ["back of the thigh", "M43 140h16l-2 36h-12Z"],
    ["knee", oval(51, 185, 8, 8)],
    ["calf", "M44 194h13q1 14-2 36h-8q-4-20-3-36Z"],
    ["ankle", oval(51, 236, 6, 5)],
    ["foot", "M46 243h10l1 10q-2 4-6 4t-6-4Z"],
  ],
};

/** Every region of a view. Seen from the front the athlete's left is on the viewer's right; from behind on the left. */
export function regionsOf(view: View): Region[] {
  const near: Side = view === "front" ? "right" : "left";
  const far: Side = view === "front" ? "left" : "right";
  return [
    ...MIDDLE[view].map(([site, path]) => ({ site, side: null, path, mirrored: false })),
    ...HALF[view].flatMap(([site, path]) => [
      { site, side: near, path, mirrored: false },
      { site, side: far, path, mirrored: true },
    ]),
  ];
}

export const placeName = (site: Site, side: Side | null | undefined) => (side ? `${side} ${site}` : site);

export const samePlace = (
  one: { site?: Site | null; side?: Side | null },
  other: { site?: Site | null; side?: Side | null },
) => one.site === other.site && (one.side ?? null) === (other.side ?? null);
