import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type FileItem, type FilePreview, type FileSpec, type Problem } from "../../api/client";

/** A file as it would be read: by what was given, else by what is guessed or was kept for files like it. */
export function useFileLook(slug: string, file: FileItem, onDone: () => void) {
  const path = { slug, import_id: file.id };
  const queries = useQueryClient();
  const [given, setGiven] = useState<FileSpec | null>(null);
  const key = [slug, "file", file.id, JSON.stringify(given)];
  const preview = useQuery({
    queryKey: key,
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/preview", {
          params: { path },
          body: given ? { spec: given } : {},
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const shown = useRef(key);
  shown.current = key;
  const who = useMutation<
    FilePreview,
    Problem,
    { said: string; athlete: number | null },
    { asked: typeof key }
  >({
    mutationFn: ({ said, athlete }) =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/preview", {
          params: { path },
          body: { spec: given ?? preview.data?.spec ?? null, people: [{ said, athlete_id: athlete }] },
        }),
      ),
    onMutate: () => ({ asked: key }),
    // What else was chosen meanwhile is looked at anew, and does not give way to what was asked before it.
    onSuccess: (seen, _said, { asked }) => {
      queries.setQueryData(asked, seen);
      if (shown.current.join() !== asked.join()) askAgain(queries, shown.current);
    },
  });
  const bring = useMutation<FileItem, Problem, { spec: FileSpec; name: string }>({
    mutationFn: ({ spec, name }) =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/bring-in", {
          params: { path },
          body: { spec, save_as: name },
        }),
      ),
    onSuccess: () => {
      askAgain(queries, [slug, "files"]);
      onDone();
    },
  });
  // What was read says how: another sheet has other columns. Until it is read anew, what was chosen shows.
  const spec = preview.isPlaceholderData ? (given ?? preview.data?.spec) : (preview.data?.spec ?? given);
  const set = (changes: Partial<FileSpec>) => spec && setGiven({ ...spec, ...changes });
  return { preview, spec, set, who, bring };
}
