import type { FileItem } from "../../api/client";

export const STATES: Record<FileItem["state"], string> = {
  looked_at: "to be looked at",
  waiting: "waiting",
  running: "coming in",
  done: "in",
  failed: "stayed out",
  undone: "taken back",
};
