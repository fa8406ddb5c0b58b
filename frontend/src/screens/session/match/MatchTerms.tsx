import { useQuery } from "@tanstack/react-query";
import type { MatchTerms as Terms } from "../../../api/client";
import { matchTermsQuery } from "../../../api/queries/session";
import { Message } from "../../../frame/Message";
import type { Place } from "../../../frame/place";
import { Loaded } from "../../../kit/Loaded";
import { Beside } from "../../../kit/Panel";
import { GameShape } from "./GameShape";
import { Nearer } from "./Nearer";
import { TermsTable } from "./TermsTable";
import { WhatAMatchIs } from "./WhatAMatchIs";
import "./match.css";

/** What the session came to in per cent of a match, and whether it was like the game. */
export default function MatchTerms({ place, session }: { place: Place; session: string }) {
  const query = useQuery(matchTermsQuery(place.squad.slug, session));
  return (
    <Loaded query={query} failed="The session could not be held against matches">
      {(terms) =>
        terms.rows.length === 0 || terms.matches === 0 ? (
          <Message
            title={
              terms.rows.length === 0 ? "Nothing is known of this session yet" : "No match to measure by"
            }
          >
            {terms.rows.length === 0
              ? "As soon as somebody’s minutes are in, or planned, it is shown in per cent of a match."
              : "Once a match has been played, sessions are shown in per cent of it: what those who played most of one had."}
          </Message>
        ) : (
          <Beside panel={<Nearer place={place} terms={terms} />} label="Nearer to the game">
            <Main terms={terms} place={place} />
          </Beside>
        )
      }
    </Loaded>
  );
}

function Main({ terms, place }: { terms: Terms; place: Place }) {
  return (
    <div className="match-terms">
      <h2 className="match-said">{terms.said}</h2>
      <TermsTable terms={terms} chosen={place.get("athlete")} />
      <WhatAMatchIs terms={terms} />
      {terms.planned ? (
        <p className="quiet match-none">
          Load is by the plan’s effort, everything else at the usual rate of such work; parts as the like was
          done before.
        </p>
      ) : terms.game ? (
        <GameShape game={terms.game} />
      ) : (
        <p className="quiet match-none">
          Whether it was like the game is known once pods have recorded both a match and this session.
        </p>
      )}
    </div>
  );
}
