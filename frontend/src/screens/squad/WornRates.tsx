import { useQuery } from "@tanstack/react-query";
import { wornRatesQuery } from "../../api/queries/morning";
import type { Place } from "../../frame/place";
import { Table } from "../../kit/Table";

/** What each rate of the worn notice would have said last month, so that the squad can choose one. */
export function WornRates({ place }: { place: Place }) {
  const rates = useQuery(wornRatesQuery(place.squad.slug, place.day));
  if (rates.isError) return <p className="over">{rates.error.message}</p>;
  if (!rates.data) return null;
  return (
    <Table
      heads={["Days an athlete-week", "On days in all", "Of people"]}
      caption="In the four weeks before Monday each rate would have spoken"
    >
      {rates.data.rates.map(({ rate, days, people }) => (
        <tr key={rate}>
          <th scope="row">{rate}</th>
          <td className="figure">{days}</td>
          <td className="figure">{people}</td>
        </tr>
      ))}
    </Table>
  );
}
