/** Layouts of sheets other than the one in view. */
import { useQuery } from "@tanstack/react-query";
import { part, want } from "../api/parts";

/** A layout by its name, once it is here. */
export function useLayout(name: string | undefined) {
  const found = useQuery({
    queryKey: ["layout", name],
    queryFn: async () => {
      await want("layouts", name ?? "");
      return part("layouts", name ?? "") ?? null;
    },
    enabled: Boolean(name),
    staleTime: Infinity,
  });
  return found.data ?? undefined;
}
