/** Photos that no opening was left for: sheets like the one in view are offered for them. */
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { tally } from "./useFill";

const MOST = 100;

/** How many sheets like the one in view the photos left over would fill; 0 where none are left, or the product has its own number. */
export function sheetsFor(view: View, unused: number): number {
  const { openings, filled } = tally(view);
  const each = view.rows.filter((row) => !row.hidden).length;
  const isFixed = view.job.book || !["page", "spread"].includes(view.sheet.role ?? "page");
  if (isFixed || !each || filled < openings) return 0;
  return Math.min(MOST, Math.ceil(unused / each));
}

/** Adds so many sheets after the one in view and fills them: one step of undo. */
export function useMoreSheets(view: View): (count: number) => void {
  const { edit } = useChange(view);
  return (count) => {
    const gesture = `sheets-${crypto.randomUUID()}`;
    let last = view.sheet.id;
    for (let n = 0; n < count; n += 1) {
      const fresh = `sheet-${crypto.randomUUID().slice(0, 8)}`;
      edit({ op: "copy_sheet", which: last, fresh, with_photos: false }, { gesture });
      if (n === 0) useBench.getState().set({ sheet: fresh, selected: undefined });
      last = fresh;
    }
    edit({ op: "fill", how: "best", only_empty: true, also_by_hand: false }, { gesture });
  };
}
