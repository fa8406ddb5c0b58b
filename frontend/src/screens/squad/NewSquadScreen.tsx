import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, ask, type BeginSquad, type Me } from "../../api/client";
import { beginSquadQuery } from "../../api/queries/frame";
import { OWN_ROLES, type OwnRole, ROLE_NAMES, zones } from "../../frame/zones";
import { Checks, Group } from "../../kit/fields";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";
import { Loaded } from "../../kit/Loaded";
import "./squad.css";

/** A new squad of the club: what work it does, and what it begins with. */
export default function NewSquadScreen({ me }: { me: Me }) {
  const begins = useQuery(beginSquadQuery);
  return (
    <>
      <div className="summary">
        <h1>
          <b>{me.squads.length === 0 ? "The first squad" : "A new squad"}</b> and what its work is
        </h1>
      </div>
      <Loaded query={begins} failed="What a squad can begin with could not be loaded">
        {(data) => <NewSquad me={me} begins={data} />}
      </Loaded>
    </>
  );
}

const COPY = "copy of ";

function NewSquad({ me, begins }: { me: Me; begins: BeginSquad }) {
  const navigate = useNavigate();
  const of = useSending({
    start: {
      name: "",
      work: begins.kinds[0]?.code ?? "",
      time_zone: begins.time_zone,
      roles: OWN_ROLES.filter((role) => begins.roles.includes(role)) as OwnRole[],
    },
    check: ({ name }) => ({ name: !name.trim() && "A squad has a name." }),
    send: ({ work, ...typed }) => {
      const copy_of = work.startsWith(COPY) ? work.slice(COPY.length) : null;
      return ask(api.POST("/api/squads", { body: { ...typed, work: copy_of ? null : work, copy_of } }));
    },
    // Where one begins there, by what one is in it.
    saved: ({ slug }) => navigate(`/?squad=${slug}`),
    renews: ["me"],
  });
  const chosen = begins.kinds.find((kind) => kind.code === of.typed.work);
  return (
    <div className="new-squad">
      <Form of={of} action="Make the squad">
        <TextField of={of} name="name" label="Name of the squad" maxLength={80} autoFocus />
        <ChoiceField
          of={of}
          name="work"
          also={["copy_of"]}
          label="What is its work?"
          options={[
            ...begins.kinds.map((kind) => [kind.code, `${kind.name}: ${kind.such_as}`] as const),
            ...me.squads
              .filter((squad) => begins.squads.includes(squad.slug))
              .map((squad) => [`${COPY}${squad.slug}`, `set up as ${squad.name} is`] as const),
          ]}
        />
        <ChoiceField
          of={of}
          name="time_zone"
          label="Time zone"
          options={zones(begins.time_zone).map((zone) => [zone, zone])}
        />
        <Group label="You are in it" error={of.wrong("roles")}>
          <Checks
            all={OWN_ROLES}
            names={ROLE_NAMES}
            chosen={of.typed.roles}
            onChange={(roles) => of.form.setValue("roles", roles)}
          />
        </Group>
        {of.typed.roles.length === 0 && (
          <p className="quiet">
            With none of them you run the squad and its people, and see nothing of anybody’s load or reports.
          </p>
        )}
      </Form>
      {chosen ? <BeginsWith kind={chosen} /> : <CopyWords />}
    </div>
  );
}

const CopyWords = () => (
  <section aria-label="What it begins with" className="begins-with">
    <p>
      Its units, limits for the whole squad, tests, forms, notices and places are copied as they stand today.
      Nobody comes with them, and neither do sessions.
    </p>
  </section>
);

export function BeginsWith({ kind }: { kind: BeginSquad["kinds"][number] }) {
  return (
    <section aria-label="What it begins with" className="begins-with">
      <h2 className="side-head">{kind.name} begins with</h2>
      <p className="quiet">
        Starting points, none of them known to be right for you. Each can be changed or ended under Squad, and
        says since when it holds and who set it.
      </p>
      <dl>
        <dt>Sessions</dt>
        <dd>{kind.sessions.join(", ")}</dd>
        <dt>Units of work</dt>
        <dd>{["Session load (effort × minutes)", ...kind.units].join(", ")}</dd>
        <dt>Limits</dt>
        <dd>
          <ul>
            {kind.limits.map((limit) => (
              <li key={limit.said}>
                {limit.said}
                {limit.hard ? "" : ", advisory"} <span className="quiet">{limit.source}</span>
              </li>
            ))}
          </ul>
        </dd>
        <dt>Places</dt>
        <dd>{kind.places.join(", ")}</dd>
        <dt>Also</dt>
        <dd>the usual morning, weekly and session reports, and the usual fitness tests</dd>
      </dl>
    </section>
  );
}
