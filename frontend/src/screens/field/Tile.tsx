import { useRef } from "react";
import { SpellTicks } from "../../charts/SpellTicks";
import type { Rule, Spell } from "./fold";
import { clock } from "./useField";

const HOLD_MS = 550;

interface Props {
  name: string;
  spell: Spell;
  rule: Rule | undefined;
  now: number;
  onCount: (by: number) => void;
}

/** One athlete's count. A long press, or the minus key, takes one back. */
export function Tile({ name, spell, rule, now, onCount }: Props) {
  const held = useRef<ReturnType<typeof setTimeout>>(undefined);
  const taken = useRef(false);
  const onBreak = spell.breakUntil !== null && now < spell.breakUntil;
  const count = spell.breakUntil !== null && !onBreak ? 0 : spell.count;
  const down = () => {
    taken.current = false;
    held.current = setTimeout(() => {
      taken.current = true;
      onCount(-1);
    }, HOLD_MS);
  };
  return (
    <div className={`field-tile${onBreak ? " on-break" : ""}`}>
      <p>
        <b>{name}</b>{" "}
        <span>
          {onBreak
            ? `on a break${spell.over > 0 ? `, ${spell.over} over` : ""}`
            : rule
              ? `${count} of ${rule[0]}, break in ${rule[0] - count}`
              : `${spell.total} in all`}
        </span>
        <SpellTicks
          count={count}
          most={rule?.[0] ?? null}
          left={onBreak ? breakShare(spell, rule, now) : null}
        />
      </p>
      <button
        type="button"
        aria-label={`${name}: count one`}
        onPointerDown={down}
        onPointerUp={() => clearTimeout(held.current)}
        onPointerLeave={() => clearTimeout(held.current)}
        onContextMenu={(event) => event.preventDefault()}
        onKeyDown={(event) => event.key === "-" && onCount(-1)}
        onClick={() => !taken.current && onCount(1)}
      >
        {onBreak ? clock((spell.breakUntil ?? 0) - now) : count}
      </button>
    </div>
  );
}

const breakShare = (spell: Spell, rule: Rule | undefined, now: number) =>
  Math.min(Math.max(((spell.breakUntil ?? now) - now) / (rule?.[1] ?? 120), 0), 1);
