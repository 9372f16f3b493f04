/** What can be done with sheets in the plan, for its toolbar and its menu. */
import type { Action } from "../ui/actions";
import type { SheetEdits } from "./sheetEdits";

export const sheetActions = (edits: SheetEdits, count: number, remove: () => void): Action[] => [
  { label: "Move left", keys: "Alt ←", isOff: !count, run: () => edits.step(-1) },
  { label: "Move right", keys: "Alt →", isOff: !count, run: () => edits.step(1) },
  { label: "Swap", isOff: count !== 2, run: edits.swap },
  { label: "Duplicate layout", keys: "Ctrl D", isOff: !count, run: () => edits.copy(false) },
  { label: "Duplicate with photos", keys: "Ctrl Shift D", isOff: !count, run: () => edits.copy(true) },
  { label: "Delete", keys: "Delete", isOff: !edits.mayRemove, run: remove },
];
