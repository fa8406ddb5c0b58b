/** The screens there are, in the order of the working day, each with the key that follows `g`. */
export const SCREENS = [
  { path: "/morning", name: "Morning", key: "m", needs: ["read_squad"] },
  { path: "/session", name: "Session", key: "s", needs: ["read_squad"] },
  { path: "/field", name: "Field", key: "f", needs: ["run_sessions"] },
  { path: "/live", name: "Live", key: "l", needs: ["run_sessions"] },
  { path: "/week", name: "Week", key: "w", needs: ["read_squad"] },
  { path: "/return", name: "Return", key: "r", needs: ["read_availability"] },
  { path: "/season", name: "Season", key: "n", needs: ["read_squad"] },
  { path: "/squad", name: "Squad", key: "q", needs: ["read_squad", "invite"] },
] as const;
