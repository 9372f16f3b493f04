import { Button, Tooltip } from "@mantine/core";
import type { ReactNode } from "react";
import { Folded } from "../ui/Folded";
import { plural } from "../ui/format";
import { useIsSmall } from "../ui/small";
import css from "./plan.module.css";
import type { SheetEdits } from "./useSheetEdits";

/** What can be done with the sheets selected. */
export function PlanTools({
  count,
  edits,
  onRemove,
  children,
}: {
  count: number;
  edits: SheetEdits;
  onRemove: () => void;
  children: ReactNode;
}) {
  const tools: [label: string, isOff: boolean, act: () => void, key?: string][] = [
    ["Move left", !count, () => edits.step(-1), "Alt ←"],
    ["Move right", !count, () => edits.step(1), "Alt →"],
    ["Swap", count !== 2, edits.swap],
    ["Duplicate layout", !count, () => edits.copy(false), "Ctrl D"],
    ["Duplicate with photos", !count, () => edits.copy(true), "Ctrl Shift D"],
    ["Delete", !edits.mayRemove, onRemove, "Delete"],
  ];
  return (
    <div className={css.tools} role="toolbar" aria-label="Sheets selected">
      <span className="num">{count ? `${plural(count, "sheet")} selected` : "None selected"}</span>
      <Folded when={useIsSmall()} label="Sheets" size="compact-sm">
        {tools.map(([label, isOff, act, key]) => (
          <Tooltip key={label} label={key} disabled={!key}>
            <Button size="compact-sm" variant="default" disabled={isOff} onClick={act}>
              {label}
            </Button>
          </Tooltip>
        ))}
      </Folded>
      {children}
    </div>
  );
}
