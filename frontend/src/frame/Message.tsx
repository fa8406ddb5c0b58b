import { Button } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface MessageProps {
  title: string;
  children: ReactNode;
  action?: string;
  onAction?: () => void;
}

/** What a screen says instead of its content: what there is, and what to do. */
export function Message({ title, children, action, onAction }: MessageProps) {
  return (
    <div className="message">
      <h2>{title}</h2>
      <p>{children}</p>
      {action && (
        <Button size="sm" mt="3" onClick={onAction}>
          {action}
        </Button>
      )}
    </div>
  );
}
