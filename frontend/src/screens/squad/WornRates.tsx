import { useQuery } from "@tanstack/react-query";
import { wornRatesQuery } from "../../api/queries";
import type { Place } from "../../frame/place";

/** What each rate of the worn notice would have said last month, so that the squad can choose one. */
export function WornRates({ place }: { place: Place }) {
  const rates = useQuery(wornRatesQuery(place.squad.slug, place.day));
  if (rates.isError) return <p className="over">{rates.error.message}</p>;
  if (!rates.data) return null;
  return (
    <table className="plain-table">
      <caption className="quiet">In the four weeks before Monday each rate would have spoken</caption>
      <thead>
        <tr>
          <th scope="col">Days an athlete-week</th>
          <th scope="col">On days in all</th>
          <th scope="col">Of people</th>
        </tr>
      </thead>
      <tbody>
        {rates.data.rates.map(({ rate, days, people }) => (
          <tr key={rate}>
            <th scope="row">{rate}</th>
            <td className="figure">{days}</td>
            <td className="figure">{people}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
