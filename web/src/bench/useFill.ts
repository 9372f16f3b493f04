/** Filling: what is most likely wanted, or as asked; kept at once, or shown first. */
import { useCallback } from "react";
import { type Edit, previewOf } from "../api/client";
import { addressed, useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { underWay } from "../ui/underWay";
import { keepLatest } from "../ui/useLatest";

type FillEdit = Extract<Edit, { op: "fill" }>;

/** Openings of all sheets and how many of them are filled. */
export function tally(view: View): { openings: number; filled: number } {
  const shown = view.rows.filter((row) => !row.hidden);
  const here = shown.filter((row) => row.photo).length;
  let openings = 0;
  let filled = 0;
  view.marks.forEach(({ counts }, index) => {
    openings += index === view.at ? shown.length : (counts?.[0] ?? 0);
    filled += index === view.at ? here : (counts?.[1] ?? 0);
  });
  return { openings, filled };
}

/** Looks at fillings, asked for by the menu or by a key: the last one is shown. */
const looks = keepLatest();

export function useFill(view: View) {
  const { edit } = useChange(view);
  const fill = useCallback(
    async (how: FillEdit["how"], only_empty: boolean, also_by_hand = false) => {
      const request = addressed(view, { op: "fill", how, only_empty, also_by_hand }) as FillEdit;
      const { firstLook, set } = useBench.getState();
      // What lies already is not thrown away before it was seen what comes instead.
      const replaces = !only_empty && tally(view).filled > 0;
      if (!firstLook && !replaces) {
        edit(request);
        return;
      }
      const signal = looks.next();
      await underWay(async () => {
        const picture = await previewOf(view.id, view.sheet.id, request, 1600, {
          edition: view.own.id,
          signal,
        });
        if (signal.aborted) URL.revokeObjectURL(picture);
        else set({ preview: { edit: request, picture } });
      });
    },
    [view, edit],
  );
  const { openings, filled } = tally(view);
  const some = filled > 0 && filled < openings;
  const likely = useCallback(() => fill("best", filled > 0), [fill, filled]);
  return { fill, likely, openings, filled, some };
}
