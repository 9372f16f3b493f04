/** How a job's sheets fold, asked for once for the same sheets. */
import { useQuery } from "@tanstack/react-query";
import { answer, api, type FoldedJob, type Panel } from "../api/client";
import type { View } from "../editing/view";

export function useFolded(state: View): FoldedJob | undefined {
  const folding = useQuery({
    queryKey: ["folding", state.id, state.job.sheets],
    queryFn: ({ signal }) =>
      answer<FoldedJob>(api.GET("/api/jobs/{job}/folding", { signal, params: { path: { job: state.id } } })),
    enabled: Boolean(state.folded),
    staleTime: Infinity,
    retry: false,
    // What stands on it stays while the sheets change: a menu that is open does not go away.
    placeholderData: (before, query) => (query?.queryKey[1] === state.id ? before : undefined),
  });
  return state.folded ? folding.data : undefined;
}

/** The panels on one of a job's sheets. */
export const panelsOn = (folded: FoldedJob | undefined, sheet: string): Panel[] =>
  (folded?.folding.panels ?? []).filter((panel) => folded?.[panel.side] === sheet);
