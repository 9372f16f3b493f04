/** The keys of the bench: those of fitting go to the selected opening, those of a walk to the walk. */
import { useEffect, useRef } from "react";
import type { JobState } from "../api/client";
import { useChange } from "../api/queries";
import { held, useFitting } from "./fitting";
import { skipped } from "./hand";
import { fitByKey } from "./keys";
import { clamped } from "./placing";
import { allSelected, useBench } from "./store";
import { startWalk, useWalk } from "./walking";

export function useKeys(state: JobState) {
  const { edit, undo, redo } = useChange(state.id);
  const { nudge, keep } = useFitting(state);
  const walking = useWalk(state);
  const latest = useRef({ state, edit, undo, redo, nudge, keep, walking });
  latest.current = { state, edit, undo, redo, nudge, keep, walking };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { state, edit, undo, redo, nudge, keep, walking } = latest.current;
      const target = event.target as HTMLElement;
      if (target.closest("input:not([type=checkbox]), select, textarea, [role=dialog], [role=menu]")) return;
      const bench = useBench.getState();
      const { selected, hand, notes, guides, view, page, set, draft, walk, preview } = bench;
      if (preview && (event.key === "Enter" || event.key === "Escape")) {
        event.preventDefault();
        if (event.key === "Enter") edit.mutate({ edit: preview.edit });
        set({ preview: undefined });
        return;
      }
      if (event.ctrlKey || event.metaKey) {
        const key = event.key.toLowerCase();
        if (key === "z" || key === "y") {
          event.preventDefault();
          if (draft) keep();
          set({ draft: undefined });
          if (key === "y" || event.shiftKey) redo.mutate();
          else undo.mutate();
        } else if (key === "+" || key === "=" || key === "-") {
          event.preventDefault();
          set({ view: Math.min(7.6, Math.max(1, key === "-" ? view / 1.5 : view * 1.5)) });
        }
        return;
      }
      if (event.altKey) return;
      if (walk && walking(event.key, event.shiftKey)) {
        keep(); // what was fitted here is accepted
        event.preventDefault();
        return;
      }
      const now = held(state, selected);
      const lying = now && fitByKey(now, event.key, event.shiftKey);
      if (now && lying) {
        event.preventDefault();
        nudge(now.row.opening, clamped(now.outline, now.photo, lying));
        return;
      }
      const pages = state.job.pages.length;
      switch (event.key) {
        case "Escape":
          if (bench.floorOf) set({ floorOf: undefined });
          else set(hand ? { hand: undefined } : { selected: undefined });
          break;
        case "Enter":
          // On a button, Enter presses it.
          if (target.closest("button, a, summary") || hand) return;
          startWalk(state, "all", selected);
          break;
        case "k":
        case "K":
          set({ keeps: !bench.keeps });
          break;
        case "h":
        case "H":
          set({ heat: !bench.heat });
          break;
        case "b":
        case "B":
          set({ before: !bench.before });
          break;
        case "c":
        case "C":
          if (now) set({ photoRoom: now.row.opening });
          break;
        case "p":
        case "P": {
          const openings = allSelected(bench);
          if (openings.length)
            edit.mutate({
              edit: { op: "pin", openings, pinned: !state.job.edition.pins.includes(openings[0] ?? "") },
            });
          break;
        }
        case "v":
        case "V":
          if (now) edit.mutate({ edit: { op: "keep_in_view", openings: allSelected(bench) } });
          break;
        case "n":
        case "N":
          set({ notes: !notes });
          break;
        case "g":
        case "G":
          set({ guides: !guides });
          break;
        case "f":
        case "F":
          edit.mutate({
            edit: { op: "fill", how: "best", only_empty: state.ledger.some((row) => row.photo) },
          });
          break;
        case "s":
        case "S":
          if (now) set({ hand: { kind: "opening", opening: now.row.opening } });
          break;
        case "x":
        case "X":
          if (hand) set({ hand: skipped(hand) });
          break;
        case "Delete":
        case "Backspace":
          if (now) {
            const openings = allSelected(bench).filter((entry) => state.job.edition.placements[entry]);
            edit.mutate({ edit: { op: "clear", openings } });
          }
          break;
        case "PageUp":
        case "PageDown": {
          const next = Math.min(pages - 1, Math.max(0, page + (event.key === "PageUp" ? -1 : 1)));
          if (next !== page) set({ page: next, selected: undefined });
          break;
        }
        default:
          return;
      }
      event.preventDefault();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
}
