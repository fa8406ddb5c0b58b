import { useQuery } from "@tanstack/react-query";
import { peopleQuery } from "../api/queries/frame";
import type { Place } from "./place";

/** Who is in the squad on the day, and the positions there are; empty until it is known. */
export function usePeople(place: Place) {
  const { data } = useQuery(peopleQuery(place.squad.slug, place.day));
  const athletes = data?.athletes ?? [];
  return { athletes, positions: [...new Set(athletes.map((one) => one.position))].sort() };
}
