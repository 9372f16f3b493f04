/** Sheet, edition and selection live in the address, so that a reload or a link comes back to the same place. */
import { useEffect } from "react";
import { jobAddress } from "../editing/addresses";
import { fresh, useBench } from "../editing/store";

/** What the address says of the bench. */
function readAddress() {
  const query = new URLSearchParams(location.search);
  return {
    sheet: query.get("sheet") ?? "",
    edition: query.get("edition") ?? "",
    selected: query.get("selected") ?? undefined,
    panel: query.get("panel") === "findings" ? ("findings" as const) : ("ledger" as const),
  };
}

const where = (job: string) => `sutaru-view-${job}`;
type Remembered = Partial<Pick<ReturnType<typeof useBench.getState>, "view" | "unit" | "pile">>;
/** How a job was looked at last. */
export const remembered = (job: string) => JSON.parse(localStorage.getItem(where(job)) ?? "{}") as Remembered;

/** Follows the address, and lets the address follow; the view of each job is remembered. */
export function useAddress(job: string) {
  useEffect(() => {
    useBench.getState().set({ ...fresh, unit: undefined, ...remembered(job), ...readAddress() });
    const back = () => useBench.getState().set(readAddress());
    addEventListener("popstate", back);
    const off = useBench.subscribe((now, before) => {
      if (now.view !== before.view || now.unit !== before.unit || now.pile !== before.pile)
        localStorage.setItem(where(job), JSON.stringify({ view: now.view, unit: now.unit, pile: now.pile }));
      const { sheet, edition, selected } = now;
      if (sheet === before.sheet && edition === before.edition && selected === before.selected) return;
      // Another sheet is a step to go back from; what is selected on it is not.
      const address = jobAddress(job, { sheet, edition, selected });
      if (!location.pathname.startsWith(`/jobs/${job}`) || address === location.pathname + location.search)
        return;
      if (sheet !== before.sheet) history.pushState(null, "", address);
      else history.replaceState(null, "", address);
    });
    return () => {
      off();
      removeEventListener("popstate", back);
    };
  }, [job]);
}
