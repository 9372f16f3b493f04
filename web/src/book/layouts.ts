/** Layouts that suit the photos on a sheet, and which of them comes next. They are asked for once for the same photos. */
import type { DragEvent } from "react";
import { answer, api, type LayoutChoice, type StoredEdit } from "../api/client";
import { client } from "../api/queries";
import type { Said } from "../editing/changes";
import { jobStore } from "../editing/jobs";
import { PHOTO_TYPE } from "../editing/sheets";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { boundsOf } from "../geometry/placing";
import { underWay } from "../ui/underWay";

type Compose = Extract<StoredEdit, { op: "compose_sheet" }>;
export type How = NonNullable<Compose["how"]>;

/** What decides which layouts suit: the sheet, which photos lie on it, wherever, and which of them stay. */
const keyOf = (view: View) => [
  "layouts",
  view.id,
  view.sheet.id,
  view.own.id,
  view.rows
    .map((row) => `${row.photo ?? ""}${row.pinned ? "!" : ""}`)
    .sort()
    .join(" "),
];

export const choices = (view: View) => ({
  queryKey: keyOf(view),
  // A key that was pressed is to have its answer, whoever looks on: not given up.
  queryFn: async () => {
    await jobStore(view.id).settled(); // of the sheet as it will be stored
    return answer<LayoutChoice[]>(
      api.GET("/api/jobs/{job}/sheets/{sheet}/layouts", {
        params: { path: { job: view.id, sheet: view.sheet.id }, query: { edition: view.own.id } },
      }),
    );
  },
  staleTime: Infinity,
});

const places = new Map<string, number>();

export type Change = (
  change: Said,
  how?: { gesture?: string; onStored?: () => void; onFailed?: () => void },
) => void;

/** Gives the sheet one of its layouts. */
export function give(view: View, all: readonly LayoutChoice[], which: number, edit: Change) {
  const chosen = all[which];
  if (!chosen) return;
  places.set(keyOf(view).join("|"), which);
  if (chosen.pages) edit({ op: "compose_sheet", pages: chosen.pages });
  else edit({ op: "change_layout", which: view.sheet.id, layout: chosen.layout });
}

/** Composes the sheet anew as a hand asks; its layouts are asked for again then. */
export function compose(
  view: View,
  edit: Change,
  change: Omit<Partial<Compose>, "op">,
  onFailed?: () => void,
) {
  const key = keyOf(view);
  places.delete(key.join("|"));
  const onStored = () => void client.invalidateQueries({ queryKey: key });
  edit({ op: "compose_sheet", ...change }, { onStored, onFailed });
}

/** Composes the photos in hand into the sheet; they are in hand again if that is refused. ``page``: 0 the left one. */
export function addHand(view: View, edit: Change, page?: 0 | 1): boolean {
  const { hand, set } = useBench.getState();
  if (hand?.kind !== "photos") return false;
  compose(view, edit, { add: hand.photos, page }, () => set({ hand }));
  set({ hand: undefined });
  return true;
}

/** The page of a spread that is pointed at: 0 the left one. */
export function pageAt(view: View, x: number, paper?: Element | null): 0 | 1 | undefined {
  const box = paper?.getBoundingClientRect();
  if (view.sheet.role !== "spread" || !box) return undefined;
  return x > box.left + box.width / 2 ? 1 : 0;
}

/** Photos of the pile that are let go beside all openings. */
export function dropOnSheet(view: View, edit: Change, event: DragEvent) {
  const photos = event.dataTransfer.getData(PHOTO_TYPE);
  if (!photos) return;
  event.preventDefault();
  const paper = event.currentTarget.querySelector("[data-testid=sheet]");
  compose(view, edit, { add: photos.split(" "), page: pageAt(view, event.clientX, paper) });
}

const NEAR = 0.002; // of the sheet: openings that lie no farther apart lie in the same place

/** Which of its layouts the sheet has as it lies now; -1 for none of them. */
export function current({ rows, layout }: View, all: readonly LayoutChoice[]): number {
  const boxes = rows.map(({ shape }) => {
    const { left, top, right, bottom } = boundsOf(shape);
    const { width_mm: wide, height_mm: high } = layout;
    return [left / wide, top / high, (right - left) / wide, (bottom - top) / high];
  });
  const lies = (box: readonly number[]) =>
    boxes.some((other) => box.every((side, index) => Math.abs(side - (other[index] ?? 0)) < NEAR));
  return all.findIndex((choice) => choice.boxes.length === boxes.length && choice.boxes.every(lies));
}

/** The next layout, or the one before. */
export const tryNext = (view: View, by: 1 | -1, edit: Change) =>
  underWay(async () => {
    const all = await client.fetchQuery(choices(view));
    if (!all.length) return;
    const now = places.get(keyOf(view).join("|")) ?? current(view, all); // the last one may be on its way
    give(view, all, (Math.max(now, by > 0 ? -1 : 0) + by + all.length) % all.length, edit);
  });
