import { Input } from "@chakra-ui/react";
import type { Block } from "../../api/client";
import { dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { useBlock } from "./useBlock";

/** The weeks of a block in figures, with what each is for. */
export function BlockTable({ block, of }: { block: Block; of: ReturnType<typeof useBlock> }) {
  return (
    <table className="block-table">
      <thead>
        <tr>
          {["Week from", "For", "Kind", "Load", "Of the week", "Base", "Balance", "Ceiling", "Over"].map(
            (name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {block.weeks.map((one, i) => (
          <tr key={one.first}>
            <th scope="row">{dayAndMonth(one.first)}</th>
            <td>
              <Input
                size="xs"
                aria-label={`What the week from ${dayAndMonth(one.first)} is for`}
                value={of.goals[i] ?? ""}
                maxLength={120}
                onChange={(event) => of.setGoal(i, event.target.value)}
              />
            </td>
            <td>
              <label>
                <input
                  type="checkbox"
                  checked={one.lighter}
                  onChange={(event) => of.setLighter(i, event.target.checked)}
                />{" "}
                lighter
              </label>
            </td>
            <td>{say.load(one.load)}</td>
            <td>{Math.round(one.share * 100)} %</td>
            <td>{one.base === null ? "" : say.load(one.base)}</td>
            <td>{one.balance === null ? "" : say.load(one.balance)}</td>
            <td>{one.ceiling === null ? "no figure" : say.load(one.ceiling)}</td>
            <td className={one.over > 0 ? "over" : undefined} title={one.names.join(", ")}>
              {one.over > 0
                ? `${one.over}: ${one.names.slice(0, 2).join(", ")}${one.over > 2 ? " …" : ""}`
                : ""}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
