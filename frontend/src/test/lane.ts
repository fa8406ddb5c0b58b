import type { Lane } from "../api/client";

/** A lane of the morning: week load 2 400, room 400, the plan 60 min and 300. */
export function lane(name: string, changes: Partial<Lane> = {}, room: Partial<Lane["room"]> = {}): Lane {
  return {
    athlete_id: name.charCodeAt(0),
    name,
    number: 1,
    position: "back",
    group: "plan",
    effort: 5,
    minutes: 60,
    stands: "plan",
    said: "",
    leaves: room.load === undefined ? 400 : room.load,
    felt: [],
    gate: "",
    notices: [],
    others: [],
    binding: null,
    call: null,
    strip: {
      week: [2400, 2559],
      load: [300, 300],
      floor: [1800, 1800],
      ceiling: [2454, 2454],
      state: ["measured", "planned"],
      side: ["", ""],
      torn: "",
    },
    room: {
      load: 400,
      words: "",
      closed: false,
      binding: [],
      bound_by: "",
      next_load: null,
      next_by: "",
      plan: 300,
      written: 300,
      plan_words: "",
      resting: "",
      ...room,
    },
    ...changes,
  };
}
