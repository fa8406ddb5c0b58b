import type { GameLike } from "../../../api/client";
import { ShareOutlines } from "../../../charts/ShareOutlines";
import * as say from "../../../frame/numbers";

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** Is it like the game: the shares of time, and how long a run and a rest last. */
export function GameShape({ game }: { game: GameLike }) {
  const bins = game.bins;
  const [first, ...rest] = game.said.split(". ");
  const [share, ...words] = (first ?? "").split(" of ");
  return (
    <section aria-label="Is it like the game?" className="game-shape">
      <h2>
        <b>Is it like the game?</b> <em className="figure">{share}</em> of{" "}
        {[words.join(" of "), ...rest].join(". ")}
      </h2>
      <div className="game-pictures">
        <figure>
          <ShareOutlines
            training={bins.map((bin) => bin.training)}
            match={bins.map((bin) => bin.match)}
            marks={bins.map((bin, i) => (i === bins.length - 1 ? `${bin.begins} m/s` : String(bin.begins)))}
            width={216}
            height={140}
            label={`Share of the time by speed: ${percent(game.overlap ?? 0)} is shared by training and match`}
          />
          <Key />
        </figure>
        <table className="bins-table">
          <thead>
            <tr>
              <th scope="col">share of the time</th>
              <th scope="col">training</th>
              <th scope="col">match</th>
            </tr>
          </thead>
          <tbody>
            {bins.map((bin) => (
              <tr key={bin.name}>
                <th scope="row">{bin.name}</th>
                <td className="figure">{percent(bin.training)}</td>
                <td className="figure">{percent(bin.match)}</td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <td colSpan={3}>apart by {say.fine(game.distance ?? 0, 1)} m/s on average</td>
            </tr>
          </tfoot>
        </table>
        <Lengths
          name="Length of a run"
          of={game.runs}
          training={game.training.work}
          match={game.match.work}
        />
        <Lengths
          name="Length of a rest"
          of={game.rests}
          training={game.training.rest}
          match={game.match.rest}
        />
      </div>
      <p className="quiet small">
        {game.people} recorded in this session, {game.games} parts in matches. A run is at least 2 s at 2 m/s
        and more.
      </p>
    </section>
  );
}

function Key() {
  return (
    <figcaption>
      <span className="key-shared" /> shared <span className="key-more" /> more in training{" "}
      <span className="key-match" /> match
    </figcaption>
  );
}

interface LengthsProps {
  name: string;
  of: GameLike["runs"];
  training: GameLike["training"]["work"];
  match: GameLike["training"]["work"];
}

function Lengths({ name, of, training, match }: LengthsProps) {
  const half = (median: number | null) => (median === null ? "–" : `${say.short(median)} s`);
  const last = of.begins.length - 1;
  return (
    <figure>
      <h3>{name}</h3>
      <ShareOutlines
        training={of.training}
        match={of.match}
        marks={of.begins.map((begins, i) =>
          i === last ? `${begins} s +` : i % 3 === 0 ? String(begins) : "",
        )}
        width={134}
        height={116}
        label={`${name} in seconds, training against match`}
      />
      <figcaption>
        half under <b>{half(training.median)}</b>; match {half(match.median)}
      </figcaption>
    </figure>
  );
}
