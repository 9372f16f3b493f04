/** Fitting the selected opening: drafts that become one edit each. */
import { useCallback, useEffect, useRef } from "react";
import type { JobState, Photo, Row } from "../api/client";
import { useChange } from "../api/queries";
import { openingOf } from "./layers";
import { type Lying, type Point, scale } from "./placing";
import { useBench } from "./store";
import { type Lay, layBy, layOf, type Surface } from "./surfaces";

export interface Held {
  row: Row;
  photo: Photo;
  /** What the photo must cover, in the opening's plane: its outline, or for a span all outlines it runs on through. */
  outline: readonly Point[];
  lying: Lying;
  /** Page mm from the opening's plane. */
  lay: Lay;
}

/** The photo in an opening, how it lies (the draft first) and what it covers; undefined when the opening is empty. */
export function held(
  state: JobState,
  opening: string | undefined,
  draft = useBench.getState().draft,
): Held | undefined {
  const row = state.ledger.find((entry) => entry.opening === opening);
  const placement = opening ? state.job.edition?.placements?.[opening] : undefined;
  const photo = state.job.photos?.find((entry) => entry.id === placement?.photo);
  if (!row || !placement || !photo) return undefined;
  const {
    fit = "cover",
    centre = [0.5, 0.5],
    zoom = 1,
    turn_deg = 0,
    mirror = false,
    ratio = null,
  } = placement;
  const own = row.outline as unknown as Point[];
  const outline = row.span ? (row.span_outline?.flat() as unknown as Point[]) : own;
  const surface = openingOf(state, opening)?.surface;
  const mine = draft && draft.opening === opening ? draft : undefined;
  const stored: Lying = { fit, centre: [centre[0] ?? 0.5, centre[1] ?? 0.5], zoom, turn_deg, mirror, ratio };
  return {
    row,
    photo,
    outline,
    lying: mine?.lying ?? rezoomed(own, outline, photo, stored),
    lay:
      mine?.surface || surface?.kind === "grid" || surface?.kind === "roll"
        ? layOf(mine?.surface ?? (surface as Surface), own)
        : layBy(row.page_from_opening),
  };
}

/** The same placement, its zoom told by what covers another outline. */
function rezoomed(from: readonly Point[], to: readonly Point[], photo: Photo, lying: Lying): Lying {
  if (from === to || lying.fit === "whole") return lying;
  const k = scale(from, photo, lying);
  return { ...lying, zoom: k / scale(to, photo, { ...lying, zoom: 1 }) };
}

/** A placement as the edit of its own opening tells it. */
export function ownLying(state: JobState, opening: string, lying: Lying): Lying {
  const now = held(state, opening, undefined);
  return now ? rezoomed(now.outline, now.row.outline as unknown as Point[], now.photo, lying) : lying;
}

/** Key presses on one opening that follow one another within this many ms are undone together. */
const RUN = 1500;

/** `show` draws a draft; `keep` stores it; `nudge` does both for a key, a run of which is one step of undo. */
export function useFitting(state: JobState) {
  const { edit } = useChange(state.id);
  const latest = useRef(state);
  latest.current = state;
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const run = useRef({ gesture: "", opening: "", at: 0 });
  const mutate = edit.mutate;
  const keep = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    const { draft, set } = useBench.getState();
    if (!draft || draft.revision !== undefined) return;
    const { opening, lying } = draft;
    const gesture = run.current.opening === opening ? run.current.gesture : undefined;
    mutate(
      { edit: { op: "place", opening, ...ownLying(latest.current, opening, lying) }, gesture },
      {
        onSuccess: (state) => {
          const now = useBench.getState().draft;
          if (now?.lying === lying) set({ draft: { ...now, revision: state.revision } });
        },
        onError: () => set({ draft: undefined }),
      },
    );
  }, [mutate]);
  const show = useCallback(
    (opening: string, lying: Lying) => {
      const { draft, set } = useBench.getState();
      if (timer.current && draft && draft.opening !== opening) keep();
      if (!timer.current) run.current.opening = ""; // a pull is a step of its own
      set({ draft: { opening, lying } });
    },
    [keep],
  );
  const nudge = useCallback(
    (opening: string, lying: Lying) => {
      const { gesture, opening: last, at } = run.current;
      const goesOn = last === opening && Date.now() - at < RUN;
      show(opening, lying);
      run.current = { gesture: goesOn ? gesture : `keys-${crypto.randomUUID()}`, opening, at: Date.now() };
      clearTimeout(timer.current);
      timer.current = setTimeout(keep, 350);
    },
    [show, keep],
  );
  useEffect(
    () => () => {
      if (timer.current) keep();
    },
    [keep],
  );
  return { show, keep, nudge };
}
