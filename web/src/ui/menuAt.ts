/** The menu of what is under the pointer: by a right click, a long press, Shift F10 or the menu key. */
import type { MouseEvent } from "react";
import { create } from "zustand";
import type { Action } from "./actions";
import { isField } from "./keys";

export interface MenuAt {
  label: string;
  x: number;
  y: number;
  actions: readonly Action[];
  /** What had the focus. */
  before: Element | null;
}

export const useMenuAt = create<{ open?: MenuAt }>(() => ({}));

/** Offers what can be done with a thing in place of the browser's own menu. */
export function openMenuAt(event: MouseEvent, label: string, actions: readonly Action[]) {
  // Who types keeps the browser's own menu: to paste, to correct.
  if (!actions.length || (event.target instanceof Element && isField(event.target))) return;
  event.preventDefault();
  event.stopPropagation();
  // By a key there is no pointer: the menu opens at what has the focus.
  const box = event.currentTarget.getBoundingClientRect();
  const byKey = event.clientX === 0 && event.clientY === 0;
  const [x, y] = byKey
    ? [box.left + box.width / 2, box.top + box.height / 2]
    : [event.clientX, event.clientY];
  useMenuAt.setState({ open: { label, x, y, actions, before: document.activeElement } });
}

/** Closes the menu; the focus is where it was before, so that what is chosen finds it there. */
export function closeMenu() {
  const before = useMenuAt.getState().open?.before;
  useMenuAt.setState({ open: undefined });
  if ((before instanceof HTMLElement || before instanceof SVGElement) && before.isConnected)
    before.focus({ preventScroll: true });
}
