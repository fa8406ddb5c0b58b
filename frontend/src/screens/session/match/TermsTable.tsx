import { Fragment, useState } from "react";
import type { MatchTerms } from "../../../api/client";
import { ChannelMark } from "../../../charts/ChannelMark";
import { PercentBar, PercentTicks } from "../../../charts/PercentBar";
import * as say from "../../../frame/numbers";

type Row = MatchTerms["rows"][number];
type Share = Row["shares"][number];

interface Props {
  terms: MatchTerms;
  /** Whose line is open from the start. */
  chosen: string | null;
}

/** Everybody's session on one line per figure, on which a match is 100 %; a position opens to its people. */
export function TermsTable({ terms, chosen }: Props) {
  const at = terms.rows.find((row) => String(row.athlete_id) === chosen)?.position;
  const [open, setOpen] = useState<string[]>(at ? [at] : []);
  const flip = (position: string) =>
    setOpen(open.includes(position) ? open.filter((one) => one !== position) : [...open, position]);
  return (
    <table className="terms-table" aria-label="In per cent of a match">
      <thead>
        <tr>
          <th scope="col">players, parts in matches</th>
          {terms.figures.map((figure) => (
            <th scope="col" key={figure.code}>
              <b>
                {figure.mark && <ChannelMark mark={figure.mark} size={11} />} {figure.name}
              </b>
              <span>match 100 %</span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">
            <b>Squad</b> <small>who did most of it</small>
          </th>
          {terms.squad.map((percent, i) => (
            <Cell key={terms.figures[i]?.code} percent={percent} peak={terms.squad_peaks[i]} />
          ))}
        </tr>
        {terms.groups.map((group) => {
          const mine = terms.rows.filter((row) => row.position === group.position);
          return (
            <Fragment key={group.position}>
              <tr className="terms-group">
                <th scope="row">
                  <button
                    type="button"
                    className="text-button plain"
                    aria-expanded={open.includes(group.position)}
                    onClick={() => flip(group.position)}
                  >
                    {group.position}
                  </button>{" "}
                  <small>
                    {group.people}, {group.parts > 0 ? `${group.parts} parts` : "by everybody’s"}
                  </small>
                </th>
                {group.percents.map((percent, i) => (
                  <td key={terms.figures[i]?.code}>
                    <b className="figure">{shown(percent)}</b>
                    <PercentTicks percents={known(mine, i)} />
                  </td>
                ))}
              </tr>
              {open.includes(group.position) && mine.map((row) => <Person key={row.athlete_id} row={row} />)}
            </Fragment>
          );
        })}
      </tbody>
      <Parts terms={terms} />
    </table>
  );
}

function Person({ row }: { row: Row }) {
  return (
    <tr className="terms-person">
      <th scope="row">
        {row.name} <small>{say.load(row.minutes)} min</small>
      </th>
      {row.shares.map((share, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a share is its figure's
        <td key={i} title={told(share)}>
          {share.percent === null ? (
            <small className="quiet">{share.why}</small>
          ) : (
            <>
              <b className="figure">
                {share.estimated && "≈"}
                {shown(share.percent)}
              </b>
              <PercentBar percent={share.percent} peak={share.peak} estimated={share.estimated} />
            </>
          )}
        </td>
      ))}
    </tr>
  );
}

/** The parts as stairs: each begins where the last one ended. */
function Parts({ terms }: { terms: MatchTerms }) {
  if (!terms.parts.some((part) => part.percents.some((percent) => percent !== null))) return null;
  const before = (part: number, i: number) =>
    terms.parts.slice(0, part).reduce((sum, one) => sum + (one.percents[i] ?? 0), 0);
  return (
    <tbody className="terms-parts">
      <tr>
        <th scope="rowgroup" colSpan={terms.figures.length + 1}>
          <b>Parts</b>{" "}
          <small>
            {terms.planned ? "as the like was done before" : "of who was recorded"}; each begins where the
            last one ended
          </small>
        </th>
      </tr>
      {terms.parts.map((part, at) => (
        <tr key={part.name}>
          <th scope="row">
            {part.name} <small>{say.load(part.minutes)} min</small>
          </th>
          {part.percents.map((percent, i) =>
            percent === null ? (
              <td key={terms.figures[i]?.code} />
            ) : (
              <Cell key={terms.figures[i]?.code} percent={percent} from={before(at, i)} />
            ),
          )}
        </tr>
      ))}
    </tbody>
  );
}

interface CellProps {
  percent: number | null;
  peak?: number | null;
  from?: number;
}

function Cell({ percent, peak = null, from = 0 }: CellProps) {
  if (percent === null)
    return (
      <td>
        <small className="quiet">not known</small>
      </td>
    );
  return (
    <td>
      <b className="figure">{shown(percent)}</b>
      <PercentBar percent={percent} peak={peak} from={from} />
    </td>
  );
}

const shown = (percent: number | null) => (percent === null ? "–" : say.load(percent));

const known = (rows: Row[], i: number) =>
  rows.map((row) => row.shares[i]?.percent ?? null).filter((percent) => percent !== null);

function told(share: Share): string {
  if (share.amount === null || share.match === null) return share.why;
  const whose = { own: "own matches", position: "matches of the position", everybody: "everybody’s matches" }[
    share.of
  ];
  const peak = share.peak === null ? "" : `; hardest minute ${say.load(share.peak)} % of a match’s hardest`;
  return `${say.load(share.amount)} of ${say.load(share.match)} in a match, by ${whose}${peak}`;
}
