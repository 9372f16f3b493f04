/** What was changed here and is not known to be stored yet: edits without an answer, values still being typed or slid. */
import { useSyncExternalStore } from "react";

let count = 0;
const listeners = new Set<() => void>();

function add(by: number) {
  count += by;
  for (const listener of listeners) listener();
}

/** Says that something is not stored yet; what comes back says that it is, and may be called more than once. */
export function pending(): () => void {
  let open = true;
  add(1);
  return () => {
    if (open) add(-1);
    open = false;
  };
}

/** Whether anything is not stored yet. */
export const isPending = () => count > 0;

export const usePending = () =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, isPending);

/** Lets the browser ask before it leaves, on whatever screen, while leaving would lose something. */
export const askBeforeLeaving = () =>
  addEventListener("beforeunload", (event) => {
    if (isPending()) event.preventDefault();
  });
