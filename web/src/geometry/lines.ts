/** Lines that what is pulled is drawn to. Page mm, or mm of an opening's plane. */
import type { boundsOf, Point } from "./placing";

type Box = ReturnType<typeof boundsOf>;

/** Lines that something was drawn to: across an opening, mm in its plane, or across a page. */
export interface Drawn {
  x?: number;
  y?: number;
}

/**
 * How far a box on the page (mm; a point is a box without size) is drawn to the edges and middles of others, each way by
 * itself: an edge to an edge, the middle to a middle, when within `near` mm; and the lines that it then lies on.
 */
export function drawnToOthers(box: Box, others: readonly Box[], near: number): { by: Point; lines: Drawn } {
  const by: [number, number] = [0, 0];
  const lines: Drawn = {};
  for (const [axis, low, high, name] of [
    [0, "left", "right", "x"],
    [1, "top", "bottom", "y"],
  ] as const) {
    const middle = (one: Box) => (one[low] + one[high]) / 2;
    const pairs = others.flatMap((other): [number, number][] => [
      ...[box[low], box[high]].flatMap((edge): [number, number][] => [
        [edge, other[low]],
        [edge, other[high]],
      ]),
      [middle(box), middle(other)],
    ]);
    let best = near;
    for (const [from, to] of pairs) {
      if (Math.abs(to - from) >= best) continue;
      best = Math.abs(to - from);
      by[axis] = to - from;
      lines[name] = to;
    }
  }
  return { by, lines };
}
