import { useEffect, useState } from "react";

/** What had the focus; of a menu, which is gone by then, what opened it. */
function focused(): Element | null {
  const now = document.activeElement;
  const opener = now?.closest("[role=menu]")?.getAttribute("aria-labelledby");
  return opener ? document.getElementById(opener) : now;
}

/** Gives the focus back as the component goes, unless something else has taken it. */
export function useFocusBack() {
  const [before] = useState(focused);
  useEffect(
    () => () => {
      setTimeout(() => {
        const nowhere = !document.activeElement || document.activeElement === document.body;
        const takesFocus = before instanceof HTMLElement || before instanceof SVGElement; // openings are drawn
        if (nowhere && takesFocus && before.isConnected) before.focus({ preventScroll: true });
      });
    },
    [before],
  );
}
