/** Changes of a job as panels and keys say them: of the sheet and the edition in view, put to the job's queue. */
import { useCallback } from "react";
import type { Edit } from "../api/client";
import { type Change, type Done, jobStore } from "./jobs";
import { useBench } from "./store";
import type { View } from "./view";

export const ON_SHEET = new Set([
  "add_layers", "remove_layers", "restack", "set_fields", "put", "place", "clear", "pin", "keep_in_view", "span", "unspan",
  "nudge", "write", "mend_opening", "retouch_opening", "accept", "reopen", "carry", "align", "distribute", "same_size", "repeat", "split",
  "make_one", "become", "compose_sheet", "run_along", "gather", "dissolve", "turn_sheet", "resize_sheet", "set_sheet", "renumber",
]); // biome-ignore format: a list
const ON_EDITION = new Set([
  "put", "place", "clear", "pin", "keep_in_view", "span", "unspan", "nudge", "write", "mend_opening", "swap", "fill",
  "retouch_opening", "mend_photo", "retouch_photo", "accept", "reopen", "lay_book", "move_photo",
  "take_over", "choose_variant", "compose_sheet",
]); // biome-ignore format: a list

type Without<E> = E extends { sheet: string } | { edition: string }
  ? Omit<E, "sheet" | "edition"> & { sheet?: string | null; edition?: string }
  : E;
/** An edit as a panel says it: of the sheet in view, in the edition in view. */
export type Said = Without<Edit>;

/** The edit with its sheet and edition in it. */
export const addressed = (view: View, change: Said): Edit =>
  ({
    ...(ON_SHEET.has(change.op) ? { sheet: view.sheet.id } : {}),
    ...(ON_EDITION.has(change.op) ? { edition: view.own.id } : {}),
    ...change,
  }) as Edit;

/** An opening of the sheet in view, as a swap names it. */
export const spot = (view: View, opening: string) => ({ sheet: view.sheet.id, opening });

/**
 * Changes a job: edits, undo, redo, a state of its history, one after the other. ``editLater`` is for what is worked out from
 * what only the server knows: where things lie once all before it is stored, what covers a place of a photo.
 */
export function useChange(view: Pick<View, "id">) {
  const { id } = view;
  const edit = useCallback(
    (change: Said | ((now: View) => Said | undefined), how: Done & { gesture?: string } = {}) => {
      const { gesture, ...done } = how;
      const make = (now: View) => {
        const fields = typeof change === "function" ? change(now) : change;
        return fields && addressed(now, fields);
      };
      jobStore(id).push({ gesture, make }, done);
    },
    [id],
  );
  const editLater = useCallback(
    (
      change: (now: View) => Said | undefined | Promise<Said | undefined>,
      how: Done & { gesture?: string; meanwhile?: Said } = {},
    ) => {
      const { gesture, meanwhile, ...done } = how;
      const later = async (now: View) => {
        const fields = await change(now);
        return fields && addressed(now, fields);
      };
      const shown = meanwhile && ((now: View) => addressed(now, meanwhile));
      jobStore(id).push({ gesture, meanwhile: shown, later }, done);
    },
    [id],
  );
  const turn = useCallback(
    (change: Change) => {
      jobStore(id).push(change);
      useBench.getState().set({ draft: undefined }); // it was of the state that is left
    },
    [id],
  );
  const undo = useCallback(() => turn({ back: "undo" }), [turn]);
  const redo = useCallback(() => turn({ back: "redo" }), [turn]);
  const goTo = useCallback((to: number) => turn({ to }), [turn]);
  return { edit, editLater, undo, redo, goTo };
}
