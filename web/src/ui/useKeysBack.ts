import { type RefObject, useEffect } from "react";
import { isField } from "./keys";

/**
 * Gives the keys back to the screen, or to `home` on it, once a button, a tick or a list was used by the pointer: the next
 * key means what it means on the sheet, and does not press the same button again.
 */
export function useKeysBack(home?: RefObject<HTMLElement | null>) {
  useEffect(() => {
    const released = (event: MouseEvent) => {
      const on = event.target instanceof Element ? event.target : undefined;
      // A press by a key (Enter, space) has no clicks; whoever works by keys goes on where he is.
      const within = (one: Element) => one.closest("[role=dialog]");
      const room = home?.current ? within(home.current) : null;
      if (!on || !event.detail || on.closest("[data-stage], [data-pile], [role=menu]")) return;
      if (within(on) !== room && !on.closest("[role=option]")) return;
      setTimeout(() => {
        const now = document.activeElement;
        if (!(now instanceof HTMLElement) || now === document.body || now.closest("[data-stage]")) return;
        if (now.ariaExpanded === "true" && now.ariaHasPopup !== "listbox") return; // what it opened has the keys
        const chosen = on.closest("[role=option]") && now.getAttribute("aria-expanded") !== "true";
        if (within(now) !== room || (isField(now) && !chosen)) return;
        if (home?.current) home.current.focus({ preventScroll: true });
        else now.blur();
      });
    };
    addEventListener("click", released);
    return () => removeEventListener("click", released);
  }, [home]);
}
