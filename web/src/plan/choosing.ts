/** Which sheets of the flat plan are selected, and how their pages are numbered. Pure. */
import type { StoredSheet } from "../api/client";

export interface Chosen {
  sheets: string[];
  /** The one that was chosen last: a run begins there. */
  last?: string;
}

/** The selection after a click or key on a sheet: it alone, it added or left out, or the run from the last one to it. */
export function chosenBy(
  now: Chosen,
  ids: readonly string[],
  id: string,
  how: "only" | "toggle" | "to",
): Chosen {
  if (how === "toggle")
    return {
      sheets: now.sheets.includes(id) ? now.sheets.filter((one) => one !== id) : [...now.sheets, id],
      last: id,
    };
  const from = ids.indexOf(now.last ?? "");
  if (how === "only" || from < 0) return { sheets: [id], last: id };
  const to = ids.indexOf(id);
  return { sheets: ids.slice(Math.min(from, to), Math.max(from, to) + 1), last: now.last };
}

/** The page numbers of each sheet: two of a spread, none of a cover. */
export function numbersOf(sheets: readonly Pick<StoredSheet, "role">[]): string[] {
  let next = 1;
  return sheets.map(({ role }) => {
    if (role === "cover") return "";
    const first = next;
    next += role === "spread" ? 2 : 1;
    return role === "spread" ? `pages ${first} and ${first + 1}` : `page ${first}`;
  });
}
