/** Looking up the layers of a job's pages. */
import type { Echo, Edit, JobState, Opening, Page } from "../api/client";

/** The opening as its page has it. */
export const openingOf = (state: JobState, id: string | undefined): Opening | undefined =>
  state.job.pages
    .flatMap((page) => page.layers)
    .find((layer): layer is Opening => layer.kind === "opening" && layer.id === id);

/** The page that a layer lies on. */
export const pageOf = (state: JobState, id: string): Page | undefined =>
  state.job.pages.find((page) => page.layers.some((layer) => layer.id === id));

/** Echoes of an opening. */
export const echoesOf = (state: JobState, opening: string): Echo[] =>
  state.job.pages
    .flatMap((page) => page.layers)
    .filter((layer): layer is Echo => layer.kind === "echo" && layer.of === opening);

/** An edit that changes an opening or an echo as it is known when the edit is sent; see `useChange`. */
export const altering =
  <L extends Opening | Echo>(layer: L, change: Partial<L> | ((now: L) => Partial<L>)) =>
  (state: JobState): Edit | undefined => {
    const now = state.job.pages
      .flatMap((page) => page.layers)
      .find((entry): entry is L => entry.kind === layer.kind && entry.id === layer.id);
    if (!now) return undefined;
    const next: Opening | Echo = { ...now, ...(typeof change === "function" ? change(now) : change) };
    return next.kind === "opening" ? { op: "alter", layer: next } : { op: "echo", layer: next };
  };
