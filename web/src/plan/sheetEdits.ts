/** What is done with sheets in the plan. */
import type { useChange } from "../editing/changes";
import type { View } from "../editing/view";

export interface SheetEdits {
  move: (sheets: string[], before: string) => void;
  /** One place on or back, all that are selected together. */
  step: (by: number) => void;
  copy: (withPhotos: boolean) => void;
  swap: () => void;
  remove: () => void;
  mayRemove: boolean;
  /** Whether photos lie on one of them. */
  hold: boolean;
}

export function sheetEdits(
  state: View,
  edit: ReturnType<typeof useChange>["edit"],
  selected: string[],
  then: { onMoved: (sheet: string | undefined) => void; onRemoved: () => void },
): SheetEdits {
  const ids = state.sheets.map((sheet) => sheet.id);
  const move = (sheets: string[], before: string) => {
    if (!sheets.length || sheets.includes(before)) return;
    edit({ op: "move_sheets", sheets, before }, { onStored: () => then.onMoved(sheets[0]) });
  };
  return {
    move,
    step: (by) => {
      const indices = selected.map((id) => ids.indexOf(id));
      if (!indices.length) return;
      const [first, last] = [Math.min(...indices), Math.max(...indices)];
      if (by < 0 ? first === 0 : last === ids.length - 1) return;
      move(selected, (by < 0 ? ids[first - 1] : ids[last + 2]) ?? "");
    },
    copy: (with_photos) => {
      const gesture = `copy-${crypto.randomUUID()}`;
      for (const which of selected) {
        const fresh = `sheet-${crypto.randomUUID().slice(0, 8)}`;
        edit({ op: "copy_sheet", which, fresh, with_photos }, { gesture });
      }
    },
    swap: () => {
      const [first, second] = selected;
      if (first && second && selected.length === 2) edit({ op: "swap_sheets", first, second });
    },
    remove: () => {
      const gesture = `remove-${crypto.randomUUID()}`;
      for (const gone of selected) edit({ op: "remove_sheet", gone }, { gesture });
      then.onRemoved();
    },
    mayRemove: selected.length > 0 && selected.length < ids.length,
    hold: selected.some((id) => {
      const count = state.marks[ids.indexOf(id)]?.counts;
      return count ? count[1] > 0 : id in state.own.fillings;
    }),
  };
}
