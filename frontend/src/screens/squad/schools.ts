/** Ways to weigh the past, as they are called on screen. */
export const SCHOOLS: Record<string, string> = {
  ewma: "weighted",
  coupled: "rolling, coupled",
  uncoupled: "rolling, uncoupled",
};
