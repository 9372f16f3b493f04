/** Where a pointer is on a sheet's drawing, px from its top left, however the sheet is turned on the screen. */
import type { Point } from "../geometry/placing";

export function pointerIn(
  drawing: Element | null | undefined,
  point: { clientX: number; clientY: number },
): Point {
  const box = drawing?.getBoundingClientRect();
  if (!box) return [point.clientX, point.clientY];
  return drawing?.closest("[data-turned]")
    ? [box.right - point.clientX, box.bottom - point.clientY]
    : [point.clientX - box.left, point.clientY - box.top];
}
