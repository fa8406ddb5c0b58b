import { api, ask } from "../../api/client";
import { mediumDay, plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Form, TextField, useSending } from "../../kit/form";
import { mondayOf } from "./month";
import { useUndo } from "./undoSessions";

/** The sessions of the week on screen once more in another week. */
export function CopyWeek({ place }: { place: Place }) {
  const toast = useToast();
  const undo = useUndo(place.squad.slug);
  const monday = mondayOf(place.day);
  const of = useSending({
    start: { into: plusDays(monday, 7) },
    check: ({ into }) => ({ into: !into && "Choose a day of the other week." }),
    send: ({ into }) =>
      ask(
        api.POST("/api/squads/{slug}/sessions/copy-week", {
          params: { path: { slug: place.squad.slug } },
          body: { of: monday, into },
        }),
      ),
    saved: ({ sessions }, { into }) => {
      const count = sessions.length === 1 ? "1 session is" : `${sessions.length} sessions are`;
      toast(`${count} made in the week of ${mediumDay(mondayOf(into))}.`, () => undo.made(sessions));
      place.set({ day: into });
    },
    renews: [place.squad.slug],
  });
  return (
    <section aria-label="Copy a week" className="copy-week">
      <Form of={of} head="Copy a week" action="Copy its plan">
        <p className="quiet">
          The sessions of the week of {mediumDay(monday)}, at the same times, with their parts. What is there
          already stays.
        </p>
        <TextField of={of} name="into" also={["of"]} label="Into the week of" type="date" />
      </Form>
    </section>
  );
}
