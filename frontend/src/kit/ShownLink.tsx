import { Input } from "@chakra-ui/react";
import { useToast } from "../frame/toast";

/** A link that is told once: to be read, and copied with one press. */
export function ShownLink({ link }: { link: string }) {
  const toast = useToast();
  return (
    <p className="shown-link">
      <Input
        size="xs"
        readOnly
        aria-label="The link"
        value={link}
        onFocus={(event) => event.target.select()}
      />
      <button
        type="button"
        className="text-button"
        onClick={() => navigator.clipboard.writeText(link).then(() => toast("The link is copied."))}
      >
        Copy
      </button>{" "}
      <span className="quiet">It is shown this once.</span>
    </p>
  );
}
