/** Two fingers zoom and move the view, whatever lies under them; one beside the sheet of a stage moves it. */
import { type PointerEvent, type RefObject, useRef } from "react";
import type { Point } from "../geometry/placing";

interface Finger {
  at: Point;
  target: EventTarget;
}

const between = (a: Point, b: Point): Point => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
const apart = (a: Point, b: Point) => Math.max(1, Math.hypot(a[0] - b[0], a[1] - b[1]));

export function useTwoFingers(
  scroller: RefObject<HTMLElement | null>,
  /** Told where the middle of two fingers is, px of the scroller, and how many times as far apart they are as at first. */
  { began, moved }: { began: (point: Point) => void; moved: (point: Point, spread: number) => void },
  /** What one finger is for something else on than to move the view. */
  taken = "[data-testid=sheet]",
) {
  const fingers = useRef(new Map<number, Finger>());
  /** How far apart the two were at first; until all fingers are up none of them means anything else. */
  const first = useRef(0);

  const pointOf = ({ clientX, clientY }: PointerEvent): Point => {
    const frame = scroller.current?.getBoundingClientRect();
    return [clientX - (frame?.left ?? 0), clientY - (frame?.top ?? 0)];
  };
  const two = () => [...fingers.current.values()].map((finger) => finger.at) as [Point, Point];
  const up = (event: PointerEvent) => {
    if (!fingers.current.delete(event.pointerId)) return;
    if (first.current && event.isTrusted) event.stopPropagation();
    if (!fingers.current.size) first.current = 0;
  };
  return {
    onPointerDownCapture: (event: PointerEvent<HTMLElement>) => {
      if (event.pointerType !== "touch") return;
      const { current: held } = fingers;
      if (held.size === 1) {
        // What the first finger took hold of lies again as it did.
        const [[pointerId, { target }] = [0, { target: null as EventTarget | null }]] = held;
        const before = new Map(held);
        target?.dispatchEvent(new window.PointerEvent("pointercancel", { pointerId, bubbles: true }));
        fingers.current = before;
      }
      fingers.current.set(event.pointerId, { at: pointOf(event), target: event.target });
      if (fingers.current.size < 2) return;
      event.stopPropagation();
      event.preventDefault();
      for (const id of fingers.current.keys()) scroller.current?.setPointerCapture(id);
      if (fingers.current.size > 2) return;
      const [a, b] = two();
      first.current = apart(a, b);
      began(between(a, b));
    },
    onPointerMoveCapture: (event: PointerEvent<HTMLElement>) => {
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return;
      const before = finger.at;
      finger.at = pointOf(event);
      if (fingers.current.size === 2 && first.current) {
        const [a, b] = two();
        moved(between(a, b), apart(a, b) / first.current);
      } else if (!first.current && !(finger.target as Element).closest(taken))
        scroller.current?.scrollBy(before[0] - finger.at[0], before[1] - finger.at[1]);
      else if (!first.current) return;
      event.stopPropagation();
    },
    onPointerUpCapture: up,
    onPointerCancelCapture: up,
  };
}
