import { Button, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ulid } from "ulid";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem } from "../../api/client";
import { notesQuery } from "../../api/queries/athlete";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Select } from "../../kit/fields";
import { useWords } from "../../kit/useWords";

const FOR = {
  desk: "for everyone at the desk",
  reports: "for who may read reports",
  clinical: "for clinicians",
} as const;

/** Notes about one athlete, each with who may read it. */
export function Notes({ place, athlete }: { place: Place; athlete: number }) {
  const slug = place.squad.slug;
  const query = notesQuery(slug, place.day, athlete);
  const notes = useQuery(query);
  const queries = useQueryClient();
  const toast = useToast();
  const { words, setWords, take, back } = useWords();
  const [audience, setAudience] = useState<keyof typeof FOR>("desk");
  const renew = () => askAgain(queries, [slug, "notes", athlete]);
  const write = useMutation<unknown, Problem, string>({
    mutationFn: (note) =>
      ask(
        api.POST("/api/squads/{slug}/athletes/{athlete_id}/notes", {
          params: { path: { slug, athlete_id: athlete } },
          body: { id: ulid(), day: place.day, audience, words: note },
        }),
      ),
    onError: (_problem, note) => back(note),
    onSuccess: renew,
  });
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/athletes/{athlete_id}/notes/{note_id}", {
          params: { path: { slug, athlete_id: athlete, note_id: id } },
        }),
      ),
    onError: (problem) => toast(problem.message),
    onSettled: renew,
  });
  const data = notes.data;
  if (!data) return null;
  return (
    <section className="section notes" aria-label="Notes">
      <h2>Notes</h2>
      {data.notes.map((note) => (
        <p key={note.id}>
          {mediumDay(note.day)}: {note.words}{" "}
          <span className="quiet">
            {note.made_by}, {FOR[note.audience]}
          </span>{" "}
          {note.own && (
            <button type="button" className="text-button" onClick={() => withdraw.mutate(note.id)}>
              Take back
            </button>
          )}
        </p>
      ))}
      {data.audiences.length > 0 && place.day <= place.squad.today && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            write.mutate(take());
          }}
        >
          <Textarea
            size="sm"
            rows={2}
            aria-label="A note"
            placeholder={`a note for ${mediumDay(place.day)}`}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          {write.isError && (
            <p role="alert" className="over">
              {write.error.message}
            </p>
          )}
          <div className="note-row">
            <Select
              size="xs"
              label="Who may read it"
              value={audience}
              onChange={(value) => setAudience(value as keyof typeof FOR)}
            >
              {data.audiences.map((code) => (
                <option key={code} value={code}>
                  {FOR[code]}
                </option>
              ))}
            </Select>
            <Button type="submit" size="xs" loading={write.isPending}>
              Keep the note
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
