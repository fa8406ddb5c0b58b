import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { Problem, sendFile } from "../../api/client";
import { useToast } from "../../frame/toast";

const MOST_BYTES = 400 * 1024 * 1024;

export interface Sending {
  name: string;
  share: number;
  problem?: string;
}

/** Files on their way in: how far each is, and what kept one out. */
export function useSendFiles(slug: string, onSent: (id: string) => void) {
  const queries = useQueryClient();
  const toast = useToast();
  const [sending, setSending] = useState<Sending[]>([]);
  const send = async (list: FileList | null) => {
    for (const file of [...(list ?? [])]) {
      const show = (change: Partial<Sending>) =>
        setSending((before) => [
          ...before.filter((one) => one.name !== file.name),
          { name: file.name, share: 0, ...change },
        ]);
      if (file.size > MOST_BYTES) {
        show({
          problem: `${Math.round(file.size / 1024 / 1024)} MB; 400 MB is the most. Split it by session.`,
        });
        continue;
      }
      show({});
      try {
        const put = await sendFile(slug, file, (share) => show({ share }));
        setSending((before) => before.filter((one) => one.name !== file.name));
        if (put.again) toast(`${file.name} is in already, as ${put.file.file_name}. Nothing was changed.`);
        await askAgain(queries, [slug, "files"]);
        onSent(put.file.id);
      } catch (error) {
        show({ problem: error instanceof Problem ? error.message : "It could not be sent." });
      }
    }
  };
  const dismiss = (one: Sending) => setSending((before) => before.filter((other) => other !== one));
  return { sending, send, dismiss };
}
