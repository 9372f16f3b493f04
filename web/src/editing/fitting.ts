/** Fitting the selected opening: drafts that become one edit each. */
import { useCallback, useEffect, useRef } from "react";
import type { KeepArea, Photo, Row } from "../api/client";
import { pending } from "../api/pending";
import { keepAreas } from "../geometry/areas";
import { type Lying, type Point, scale } from "../geometry/placing";
import { type Lay, layBy, layOf, type Surface } from "../geometry/surfaces";
import { areaThrough, type Turned, turned } from "../geometry/upright";
import { useChange } from "./changes";
import { waits } from "./flushing";
import { pictureOf, standing } from "./standing";
import { type Draft, useBench } from "./store";
import { openingOf, type View } from "./view";

export interface Held {
  row: Row;
  photo: Photo;
  /** Its picture, as it is mended here. */
  picture: string;
  /** What the photo must cover, in the opening's plane: its outline, or for a span all outlines it runs on through. */
  outline: readonly Point[];
  lying: Lying;
  /** Page mm from the opening's plane. */
  lay: Lay;
  /** What must stay visible: where it is seen, once the photo is put upright, and as it is stored. */
  keeps: readonly Keep[];
}

export interface Keep {
  seen: KeepArea;
  stored: KeepArea;
}

/** No draft, whatever is being pulled. */
export const NONE = null;

/** The photo in an opening, how it lies (the draft first) and what it covers; undefined when the opening is empty. */
export function held(
  view: View,
  opening: string | undefined,
  draft: Draft | null | undefined = useBench.getState().draft,
): Held | undefined {
  const row = view.rows.find((entry) => entry.opening === opening);
  const placement = row?.placement;
  const photo = placement && view.photo.get(placement.photo);
  if (!row || !placement || !photo) return undefined;
  const { fit, centre, zoom, turn_deg, mirror, ratio = null } = placement;
  const own = row.outline;
  const outline = row.span ? row.span_outline?.flat() : own;
  const surface = openingOf(view, opening)?.surface;
  const mine = draft && draft.opening === opening ? draft : undefined;
  const stored: Lying = { fit, centre: [centre[0] ?? 0.5, centre[1] ?? 0.5], zoom, turn_deg, mirror, ratio };
  return {
    row,
    photo,
    picture: pictureOf(view, photo, row.opening),
    outline,
    lying: mine?.lying ?? rezoomed(own, outline, photo, stored),
    lay:
      mine?.surface || surface?.kind === "grid" || surface?.kind === "roll"
        ? layOf(mine?.surface ?? (surface as Surface), own)
        : layBy(row.page_from_opening),
    keeps: keepsOf(photo, turned(standing(view, photo, row.opening), photo)),
  };
}

const keepsOf = (photo: Photo, stands: Turned | undefined): Keep[] =>
  keepAreas(photo).flatMap((stored) => {
    const seen = stands ? areaThrough(stored, photo, stands.to) : stored;
    return seen ? [{ seen, stored }] : [];
  });

/** Keep areas as they are drawn on what an opening shows, as they are stored: what was not altered stays exactly as it was. */
export function keptAs(view: View, now: Held, drawn: readonly KeepArea[]): KeepArea[] {
  const stands = turned(standing(view, now.photo, now.row.opening), now.photo);
  if (!stands) return [...drawn];
  const same = (a: KeepArea, b: KeepArea) =>
    a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height;
  const cutOff = keepAreas(now.photo).filter((area) => !now.keeps.some(({ stored }) => stored === area));
  const back = drawn.flatMap((area) => {
    const old = now.keeps.find(({ seen }) => same(seen, area))?.stored;
    const moved = old ? { ...old, kind: area.kind } : areaThrough(area, now.photo, stands.from);
    return moved ? [moved] : [];
  });
  return [...back, ...cutOff.map((area) => ({ ...area, kind: "hand" as const }))];
}

/** The same placement, its zoom told by what covers another outline. */
function rezoomed(from: readonly Point[], to: readonly Point[], photo: Photo, lying: Lying): Lying {
  if (from === to || lying.fit !== "cover") return lying;
  const k = scale(from, photo, lying);
  return { ...lying, zoom: k / scale(to, photo, { ...lying, zoom: 1 }) };
}

/** A placement as the edit of its own opening tells it. */
export function ownLying(view: View, opening: string, lying: Lying): Lying {
  const now = held(view, opening, NONE);
  return now ? rezoomed(now.outline, now.row.outline, now.photo, lying) : lying;
}

/** How an opening lies in a state of the job, to tell whether it lies so in another. */
const lies = (view: View, opening: string) =>
  JSON.stringify([
    view.rows.find((row) => row.opening === opening)?.placement,
    openingOf(view, opening)?.surface,
  ]);

/** Ends a draft that is stored once the job has its opening otherwise: by an undo, by history, by another window. */
export function useDraftEnds(view: View) {
  const draft = useBench((bench) => bench.draft);
  const was = useRef<{ draft: Draft; lies: string }>(undefined);
  useEffect(() => {
    if (draft?.state !== "stored") return;
    const known = was.current?.draft === draft ? was.current.lies : undefined;
    const now = lies(view, draft.opening);
    if (view.seq === draft.seq) was.current = { draft, lies: now };
    else if (view.seq > (draft.seq ?? 0) && known !== now) useBench.getState().set({ draft: undefined });
  }, [view, draft]);
}

/** Key presses on one opening that follow one another within this many ms are undone together. */
const RUN = 1500;
const PAUSE = 350;

let timer: ReturnType<typeof setTimeout> | undefined;
let run = { gesture: "", opening: "", at: 0 };
let unsend: (() => void) | undefined;

/** `show` draws a draft; `keep` stores it; `nudge` does both for a key, a run of which is one step of undo. */
export function useFitting(view: View) {
  const { edit } = useChange(view);
  const latest = useRef(view);
  latest.current = view;
  const keep = useCallback(() => {
    clearTimeout(timer);
    timer = undefined;
    unsend?.();
    const { draft, set } = useBench.getState();
    if (draft?.state !== "open") return;
    const { opening, lying } = draft;
    const gesture = run.opening === opening ? run.gesture : undefined;
    const mine = { ...draft, state: "sent" as const };
    set({ draft: mine });
    const photo = latest.current.rows.find((row) => row.opening === opening)?.photo;
    edit((now) => ({ op: "place", opening, ...ownLying(now, opening, lying), expect: photo || null }), {
      gesture,
      onStored: (head) => {
        // A draft that was begun since is another's.
        if (useBench.getState().draft === mine) set({ draft: { ...mine, state: "stored", seq: head.seq } });
      },
      onFailed: () => useBench.getState().draft === mine && set({ draft: undefined }),
    });
  }, [edit]);
  const show = useCallback(
    (opening: string, lying: Lying) => {
      const { draft, set } = useBench.getState();
      if (draft?.state === "open" && draft.opening !== opening) keep();
      if (!timer) run.opening = ""; // a pull is a step of its own
      if (!unsend) {
        const stored = pending();
        const done = waits(keep);
        unsend = () => {
          stored();
          done();
          unsend = undefined;
        };
      }
      set({ draft: { opening, lying, state: "open" } });
    },
    [keep],
  );
  const nudge = useCallback(
    (opening: string, lying: Lying) => {
      const { gesture, opening: last, at } = run;
      const goesOn = last === opening && Date.now() - at < RUN;
      show(opening, lying);
      run = { gesture: goesOn ? gesture : `keys-${crypto.randomUUID()}`, opening, at: Date.now() };
      clearTimeout(timer);
      timer = setTimeout(keep, PAUSE);
    },
    [show, keep],
  );
  /** Lets a draft go as if it had never been. */
  const drop = useCallback(() => {
    clearTimeout(timer);
    timer = undefined;
    unsend?.();
    if (useBench.getState().draft?.state === "open") useBench.getState().set({ draft: undefined });
  }, []);
  return { show, keep, nudge, drop };
}
