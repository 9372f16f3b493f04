/** The walk: from opening to opening in reading order, close up. Nothing needs the mouse. */
import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api, type JobState, type Ranked } from "../api/client";
import { pending } from "../api/pending";
import { client, complain, useChange } from "../api/queries";
import { useBench, type Walk } from "./store";

/** The openings of a walk, in reading order: all, or those that something was found of. */
export function openingsOf(state: JobState, only: Walk["only"]): string[] {
  const found = new Set(state.findings.map((finding) => finding.layer));
  return [...state.ledger]
    .sort((a, b) => a.reading - b.reading)
    .filter((row) => only === "all" || found.has(row.opening))
    .map((row) => row.opening);
}

const pageAt = (state: JobState, opening: string | undefined) => {
  const row = state.ledger.find((entry) => entry.opening === opening);
  return Math.max(
    0,
    state.job.pages.findIndex((page) => page.id === row?.page),
  );
};

/** Begins a walk at an opening, or at the first. */
export function startWalk(state: JobState, only: Walk["only"], from?: string) {
  const openings = openingsOf(state, only);
  const start = from && openings.includes(from) ? from : openings[0];
  if (!start) return;
  useBench.getState().set({
    walk: { openings, only },
    selected: start,
    page: pageAt(state, start),
    hand: undefined,
    part: "fit",
  });
}

/** Goes on by so many openings; past the last one the walk ends. */
export function goOn(state: JobState, by: number) {
  const { walk, selected, set } = useBench.getState();
  if (!walk) return;
  const next = walk.openings[walk.openings.indexOf(selected ?? "") + by];
  if (next) set({ selected: next, page: pageAt(state, next) });
  else if (by > 0) set({ walk: undefined });
}

/** Photos of the pile that fit an opening best, unused ones first. */
const ranking = (state: JobState, opening: string) => ({
  queryKey: ["ranked", state.id, opening, state.revision],
  queryFn: () =>
    answer<Ranked[]>(
      api.GET("/api/jobs/{job}/openings/{opening}/ranked", {
        params: { path: { job: state.id, opening }, query: { limit: 9 } },
      }),
    ),
});

/** The ranking; until it is known, the one shown before, marked as such. */
export const useRanked = (state: JobState, opening: string | undefined) =>
  useQuery({
    ...ranking(state, opening ?? ""),
    enabled: opening !== undefined,
    placeholderData: (before) => before,
  });

/** What a key does in a walk; false when it means nothing there. */
export function useWalk(state: JobState) {
  const selected = useBench((bench) => bench.selected);
  const { edit } = useChange(state.id);
  const mutate = edit.mutate;
  /** Takes the nth best photo, also when the ranking is still on its way. */
  const take = useCallback(
    async (opening: string, nth: number) => {
      const stored = pending();
      try {
        const photo = (await client.ensureQueryData(ranking(state, opening)))[nth - 1]?.photo;
        if (photo) mutate({ edit: { op: "put", opening, photo } });
      } catch (error) {
        complain(error);
      } finally {
        stored();
      }
    },
    [state, mutate],
  );
  return useCallback(
    (key: string, shift: boolean): boolean => {
      if (key === "Enter" || key === "Tab") goOn(state, shift ? -1 : 1);
      else if (key === "Escape") useBench.getState().set({ walk: undefined });
      else if (/^[1-9]$/.test(key)) {
        if (selected) take(selected, Number(key));
      } else return false;
      return true;
    },
    [state, selected, take],
  );
}
