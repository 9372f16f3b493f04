/** Layouts of sheets other than the one in view. */
import { useQuery } from "@tanstack/react-query";
import { part, want } from "../api/parts";

/** A layout by its name, once it is here; until then the one it takes the place of. */
export function useLayout(name: string | undefined) {
  const places = useQuery({
    queryKey: ["layout", name],
    queryFn: async () => {
      await want("layouts", name ?? "");
      return part("layouts", name ?? "") ?? null;
    },
    enabled: Boolean(name),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  return places.data ?? undefined;
}

/** The openings of a layout by their numbers, once known: 1 for the first one. */
export function useNumbers(name: string | undefined): ReadonlyMap<string, number> {
  const places = useQuery({
    queryKey: ["numbers", name],
    queryFn: async () => {
      await want("places", name ?? "");
      const openings = part("places", name ?? "")?.openings ?? [];
      return new Map(openings.map(({ opening, number }) => [opening, number]));
    },
    enabled: Boolean(name),
    staleTime: Infinity,
  });
  return places.data ?? NONE;
}

const NONE: ReadonlyMap<string, number> = new Map();
