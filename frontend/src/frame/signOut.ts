import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { forgetAnswers } from "../api/unchanged";
import { forgetAll } from "../offline/store";

/** Signs out, and leaves nothing of anybody in this browser. What still waits to be sent asks first. */
export function useSignOut(waiting: number): () => void {
  const queries = useQueryClient();
  const signOut = useMutation({
    mutationFn: () => ask(api.POST("/api/sign-out")),
    onSuccess: async () => {
      queries.clear();
      forgetAnswers();
      await forgetAll().catch(() => {});
      window.location.assign("/");
    },
  });
  return () => {
    const lost = `${waiting} still to be sent would be lost. Sign out all the same?`;
    if (waiting === 0 || window.confirm(lost)) signOut.mutate();
  };
}
