/** Where a pointer is on a sheet's drawing, px from its top left, however the sheet is turned on the screen. */
import type { Point } from "../geometry/placing";

export function pointerIn(
  drawing: Element | null | undefined,
  at: { clientX: number; clientY: number },
): Point {
  const box = drawing?.getBoundingClientRect();
  if (!box) return [at.clientX, at.clientY];
  return drawing?.closest("[data-turned]")
    ? [box.right - at.clientX, box.bottom - at.clientY]
    : [at.clientX - box.left, at.clientY - box.top];
}
