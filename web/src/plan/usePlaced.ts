/** What lies on every sheet of an edition. */
import { useQuery } from "@tanstack/react-query";
import { part, wantMany } from "../api/parts";
import type { View } from "../editing/view";

/** For each sheet its openings and the photos in them, as pairs, in order of their names. */
export function usePlaced(state: View, wanted: boolean): Map<string, [string, string][]> {
  const named = state.own.fillings;
  const placed = useQuery({
    queryKey: ["placed", state.id, Object.values(named).join(" ")],
    queryFn: async () => {
      await wantMany("fillings", Object.values(named));
      return new Map(
        Object.entries(named).map(([sheet, name]) => {
          const filling = part("fillings", name);
          const held: [string, string][] = Object.entries(filling?.placements ?? {}).map(([k, v]) => [
            k,
            v.photo,
          ]);
          return [sheet, held.sort(([a], [b]) => a.localeCompare(b, "en", { numeric: true }))];
        }),
      );
    },
    enabled: wanted,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  return placed.data ?? new Map();
}
