/** Ctrl K: heard from the first moment on; what it opens is fetched when it is first asked for. */
import { create } from "zustand";

/** How often the finder was asked for. */
export const useFinderAsked = create<{ times: number }>(() => ({ times: 0 }));

export const askFinder = () => useFinderAsked.setState(({ times }) => ({ times: times + 1 }));

export function hearFinderKey() {
  addEventListener("keydown", (event) => {
    if (
      !(event.ctrlKey || event.metaKey) ||
      event.altKey ||
      event.shiftKey ||
      event.key.toLowerCase() !== "k"
    )
      return;
    event.preventDefault();
    askFinder();
  });
}
