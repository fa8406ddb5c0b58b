import { Button } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type FileItem, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";

/** What can be done with a file as it stands. */
export function FileActions({ place, file }: { place: Place; file: FileItem }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const renew = () => askAgain(queries, [slug]);
  const path = { slug, import_id: file.id };
  const undo = useMutation<FileItem, Problem>({
    mutationFn: () => ask(api.POST("/api/squads/{slug}/files/{import_id}/undo", { params: { path } })),
    onSuccess: () => {
      toast(`${file.file_name} is taken back as a whole.`);
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  const discard = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.DELETE("/api/squads/{slug}/files/{import_id}", { params: { path } })),
    onSuccess: () => {
      place.set({ file: null }, true);
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  if (file.state === "done" && "package" in file.report)
    return (
      <p className="quiet">A whole squad is not taken back; the squad can be deleted, under Accounts.</p>
    );
  if (file.state === "done")
    return (
      <Button size="sm" variant="outline" loading={undo.isPending} onClick={() => undo.mutate()}>
        Take it back
      </Button>
    );
  if (file.state === "looked_at" || file.state === "failed")
    return (
      <button type="button" className="text-button" onClick={() => discard.mutate()}>
        Put it away
      </button>
    );
  return null;
}
