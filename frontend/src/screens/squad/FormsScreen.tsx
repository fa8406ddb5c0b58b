import type { Place } from "../../frame/place";
export default function Screen({ place }: { place: Place }) {
  return <p>{place.day}</p>;
}
