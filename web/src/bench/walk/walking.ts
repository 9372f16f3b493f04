/** The walk: from opening to opening in reading order, close up, over all sheets. Nothing needs the mouse. */
import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api, type Finding, type Ranked } from "../../api/client";
import { part, want } from "../../api/parts";
import { client } from "../../api/queries";
import { useChange } from "../../editing/changes";
import { useBench, type Walk } from "../../editing/store";
import type { View } from "../../editing/view";
import { underWay } from "../../ui/underWay";

/** The openings of a sheet's walk, in reading order: all, or those that something was found of. */
export function openingsOf(view: View, only: Walk["only"]): string[] {
  const layers = new Set(view.findings.map((finding) => finding.layer));
  return [...view.rows]
    .sort((a, b) => a.reading - b.reading)
    .filter((row) => only === "all" || layers.has(row.opening))
    .map((row) => row.opening);
}

/** Begins a walk at an opening, or at the first. */
export function startWalk(view: View, only: Walk["only"], from?: string) {
  const openings = openingsOf(view, only);
  const start = from && openings.includes(from) ? from : openings[0];
  if (!start) return;
  useBench.getState().set({
    walk: { sheet: view.sheet.id, openings, only },
    selected: start,
    hand: undefined,
    part: "fit",
  });
}

/** Whether a sheet has anything for a walk; one that is not looked through yet may have: it is not passed over. */
const hasAny = (view: View, index: number, only: Walk["only"]) => {
  const { counts } = view.marks[index] ?? {};
  if (!counts) return true;
  const [openings, , stops, looks] = counts;
  return only === "all" ? openings > 0 : stops + looks > 0;
};

/** Goes on by so many openings; past the last one of a sheet to the next sheet, past the last sheet the walk ends. */
export function goOn(view: View, by: number) {
  const { walk, selected, set } = useBench.getState();
  if (!walk) return;
  const next = walk.openings[walk.openings.indexOf(selected ?? "") + by];
  if (next) {
    set({ selected: next });
    return;
  }
  if (walk.tour) {
    const stop = walk.tour[whereIn(view, walk.tour) + by];
    if (stop) set({ ...stop, selected: undefined, walk: { ...walk, sheet: "", openings: [], from: by } });
    else if (by > 0) set({ walk: undefined });
    return;
  }
  for (let index = view.at + by; view.sheets[index]; index += by)
    if (hasAny(view, index, walk.only)) {
      // Which openings there are is known once that sheet is here; see useWalkOn.
      const ahead = { ...walk, sheet: "", openings: [], from: by };
      set({ sheet: view.sheets[index]?.id ?? "", selected: undefined, walk: ahead });
      return;
    }
  if (by > 0) set({ walk: undefined });
}

/** Which stop of a tour is in view. */
export const whereIn = (view: View, tour: NonNullable<Walk["tour"]>) =>
  tour.findIndex((stop) => stop.edition === view.own.id && stop.sheet === view.sheet.id);

/** Begins a walk through what was found in openings, in all editions; how many sheets it has to go to. */
export async function startTour(view: View, editions: string[]) {
  const findings = await answer<Finding[]>(
    api.GET("/api/jobs/{job}/findings", {
      params: { path: { job: view.id }, query: { edition: "*" } },
    }),
  );
  const open = findings.filter((finding) => !finding.accepted && finding.severity !== "note");
  const sheets = view.sheets.filter(({ id }) => open.some((one) => one.sheet === id));
  await Promise.all(sheets.map(({ layout }) => want("places", layout)));
  const stops = sheets.map(({ id, layout }) => {
    const openings = new Set(part("places", layout)?.openings.map(({ opening }) => opening));
    return { id, of: open.filter((one) => one.sheet === id && openings.has(one.layer)) };
  });
  const tour = editions.flatMap((edition) =>
    stops
      .filter(({ of }) => of.some((one) => one.edition === edition))
      .map(({ id }) => ({ edition, sheet: id })),
  );
  const [first] = tour;
  if (first)
    useBench.getState().set({
      ...first,
      selected: undefined,
      hand: undefined,
      part: "fit",
      walk: { sheet: "", openings: [], only: "findings", tour },
    });
  return tour.length;
}

/** Takes a walk up again on the sheet it has come to. */
export function walkOn(view: View) {
  const { walk, edition, sheet, set } = useBench.getState();
  if (!walk || walk.sheet === view.sheet.id) return;
  const coming = view.sheet.id !== sheet && view.sheets.some(({ id }) => id === sheet);
  if (coming || (walk.tour && view.own.id !== edition)) return; // what it goes to is still on its way
  const openings = openingsOf(view, walk.only);
  const start = (walk.from ?? 1) > 0 ? openings[0] : openings.at(-1);
  if (start) set({ walk: { ...walk, sheet: view.sheet.id, openings, from: undefined }, selected: start });
  else goOn({ ...view, rows: [] }, walk.from ?? 1);
}

/** Photos of the pile that fit an opening best, unused ones first. */
const ranking = (view: View, opening: string) => ({
  queryKey: ["ranked", view.id, view.own.id, opening, view.key],
  // A key that was pressed is to have its answer, whoever looks on: not given up.
  queryFn: () =>
    answer<Ranked[]>(
      api.GET("/api/jobs/{job}/sheets/{sheet}/openings/{opening}/ranked", {
        params: {
          path: { job: view.id, sheet: view.sheet.id, opening },
          query: { limit: 9, edition: view.own.id },
        },
      }),
    ),
});

/** The ranking; until it is known, the one shown before, marked as such. */
export const useRanked = (view: View, opening: string | undefined) =>
  useQuery({
    ...ranking(view, opening ?? ""),
    enabled: opening !== undefined,
    placeholderData: (before) => before,
  });

/** Takes the nth best photo, also when the ranking is still on its way. */
export function useTake(view: View) {
  const { edit } = useChange(view);
  return useCallback(
    async (opening: string, nth: number) => {
      await underWay(async () => {
        const photo = (await client.ensureQueryData(ranking(view, opening)))[nth - 1]?.photo;
        if (photo) edit({ op: "put", sheet: view.sheet.id, opening, photo });
      });
    },
    [view, edit],
  );
}
