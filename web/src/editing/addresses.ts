/** Addresses of a job's screens. Each says which edition it shows, so that none turns to another on the way. */
import { useSearch } from "wouter";
import type { View } from "./view";

interface At {
  sheet?: string;
  edition?: string;
  selected?: string;
  panel?: string;
}

/** The bench of a job, or another of its screens. */
export function jobAddress(
  job: string,
  place: At,
  screen: "" | "workshop" | "plan" | "book" | "dispatch" = "",
) {
  const query = new URLSearchParams(
    Object.entries(place).filter((entry): entry is [string, string] => !!entry[1]),
  );
  return `/jobs/${job}${screen && `/${screen}`}${query.size ? `?${query}` : ""}`;
}

/** The edition in view, as an address says it: the first is not said. */
export const editionIn = (state: View) => (state.own.id === "first" ? "" : state.own.id);

/** What the address asks for, such as an edition; "" when it does not say. */
export const useAsked = (what: keyof At) => new URLSearchParams(useSearch()).get(what) ?? "";

/** The name of the edition in view and a dot, where there are several. */
export const editionNamed = (state: View) => (state.job.editions.length > 1 ? `${state.own.name} · ` : "");
