/** Follows a pointer that was pressed until it is let go, whatever it passes over. */
import type { PointerEvent } from "react";

export function follow(
  event: PointerEvent<Element>,
  move: (next: globalThis.PointerEvent) => void,
  done: () => void,
) {
  const target = event.currentTarget as HTMLElement | SVGElement;
  target.setPointerCapture(event.pointerId);
  const up = () => {
    target.removeEventListener("pointermove", move as EventListener);
    target.removeEventListener("pointerup", up);
    target.removeEventListener("pointercancel", up);
    done();
  };
  target.addEventListener("pointermove", move as EventListener);
  target.addEventListener("pointerup", up);
  target.addEventListener("pointercancel", up);
}
