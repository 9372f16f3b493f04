/** What can be done with sheets in the plan, for its toolbar and its menu. */
import type { Action } from "../ui/actions";
import { t } from "../words";
import type { SheetEdits } from "./sheetEdits";

export const sheetActions = (edits: SheetEdits, count: number, remove: () => void): Action[] => [
  { label: t("Move left"), keys: "Alt ←", isOff: !count, run: () => edits.step(-1) },
  { label: t("Move right"), keys: "Alt →", isOff: !count, run: () => edits.step(1) },
  { label: t("Swap"), isOff: count !== 2, run: edits.swap },
  { label: t("Duplicate layout"), keys: "Ctrl D", isOff: !count, run: () => edits.copy(false) },
  { label: t("Duplicate with photos"), keys: "Ctrl Shift D", isOff: !count, run: () => edits.copy(true) },
  { label: t("Delete"), keys: "Delete", isOff: !edits.mayRemove, run: remove },
];
