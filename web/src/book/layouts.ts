/** Layouts that suit the photos on a sheet, and which of them comes next. They are asked for once for the same photos. */
import { answer, api, type LayoutChoice } from "../api/client";
import { client } from "../api/queries";
import type { Said } from "../editing/changes";
import type { View } from "../editing/view";
import { underWay } from "../ui/underWay";

/** What decides which layouts suit: the sheet, and which photos lie on it, wherever. */
const keyOf = (view: View) => [
  "layouts",
  view.id,
  view.sheet.id,
  view.own.id,
  view.rows
    .map((row) => row.photo ?? "")
    .sort()
    .join(" "),
];

export const choices = (view: View) => ({
  queryKey: keyOf(view),
  // A key that was pressed is to have its answer, whoever looks on: not given up.
  queryFn: () =>
    answer<LayoutChoice[]>(
      api.GET("/api/jobs/{job}/sheets/{sheet}/layouts", {
        params: { path: { job: view.id, sheet: view.sheet.id }, query: { edition: view.own.id } },
      }),
    ),
  staleTime: Infinity,
});

const places = new Map<string, number>();

export type Change = (change: Said, how?: { gesture?: string }) => void;

/** Gives the sheet one of its layouts. */
export function give(view: View, all: readonly LayoutChoice[], which: number, edit: Change) {
  const chosen = all[which];
  if (!chosen) return;
  places.set(keyOf(view).join("|"), which);
  edit({ op: "change_layout", which: view.sheet.id, layout: chosen.layout });
}

/** Which of its layouts the sheet has, as far as is known; -1 for none of them. */
export const current = (view: View, all: readonly LayoutChoice[]) =>
  places.get(keyOf(view).join("|")) ?? all.findIndex((one) => one.now);

/** The next layout, or the one before. */
export const tryNext = (view: View, by: 1 | -1, edit: Change) =>
  underWay(async () => {
    const all = await client.fetchQuery(choices(view));
    if (!all.length) return;
    const now = current(view, all);
    give(view, all, (Math.max(now, by > 0 ? -1 : 0) + by + all.length) % all.length, edit);
  });
