/**
 * Follows a pointer that was pressed until it is let go, whatever it passes over. Where a pull can be given up, Escape does
 * so, and what takes the pointer away (a second finger, say); else what takes it away ends it as letting go does.
 */
import type { PointerEvent } from "react";

export function follow(
  event: PointerEvent<Element>,
  move: (next: globalThis.PointerEvent) => void,
  done: () => void,
  giveUp?: () => void,
) {
  const target = event.currentTarget as HTMLElement | SVGElement;
  target.setPointerCapture(event.pointerId);
  const following = new AbortController();
  const { signal } = following;
  const end = (then: () => void) => () => {
    following.abort();
    then();
  };
  target.addEventListener("pointermove", move as EventListener, { signal });
  target.addEventListener("pointerup", end(done), { signal });
  target.addEventListener("pointercancel", end(giveUp ?? done), { signal });
  if (!giveUp) return;
  const press = (key: KeyboardEvent) => {
    if (key.key !== "Escape") return;
    key.preventDefault();
    key.stopPropagation();
    end(giveUp)();
  };
  addEventListener("keydown", press, { capture: true, signal });
}
