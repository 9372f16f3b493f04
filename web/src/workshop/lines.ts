/** What is drawn or pulled in the workshop is drawn to lines: of other layers, the page, its lines and guides, equal gaps. */
import type { Layout } from "../api/client";
import { type Drawn, drawnToOthers } from "../geometry/lines";
import type { Point } from "../geometry/placing";
import type { Box } from "./layers";

/** A gap between two boxes on the page, to be shown with its length. */
export interface Gap {
  axis: "x" | "y";
  from: number;
  to: number;
  at: number;
}

/** Boxes whose edges and middles draw: the page, its safe area, lines, guides and columns. */
export function boxesOf(layout: Layout): Box[] {
  const { width_mm: right, height_mm: bottom } = layout;
  const safe = layout.safe_mm ?? 5;
  const found: Box[] = [{ left: 0, top: 0, right, bottom }];
  if (safe) found.push({ left: safe, top: safe, right: right - safe, bottom: bottom - safe });
  for (const { axis, at_mm: at } of [...(layout.lines ?? []), ...(layout.guides ?? [])])
    found.push(
      axis === "x" ? { left: at, right: at, top: 0, bottom } : { left: 0, right, top: at, bottom: at },
    );
  for (const [axis, from, to] of columnsOf(layout))
    found.push(
      axis === "x" ? { left: from, right: to, top: 0, bottom } : { left: 0, right, top: from, bottom: to },
    );
  return found;
}

/** Columns and rows of a sheet, each from where to where, mm. */
export function columnsOf(layout: Layout): ["x" | "y", number, number][] {
  const net = layout.columns;
  if (!net) return [];
  const [gutter, margin] = [net.gutter_mm ?? 4, net.margin_mm ?? 12];
  return (
    [
      ["x", net.columns ?? 12, layout.width_mm],
      ["y", net.rows ?? 8, layout.height_mm],
    ] as const
  ).flatMap(([axis, count, side]) => {
    const wide = (side - 2 * margin - (count - 1) * gutter) / count;
    return wide <= 0
      ? []
      : Array.from({ length: count }, (_, n): ["x" | "y", number, number] => {
          const from = margin + n * (wide + gutter);
          return [axis, from, from + wide];
        });
  });
}

const ENDS = { x: ["left", "right"], y: ["top", "bottom"] } as const;
const middle = (box: Box, axis: "x" | "y") => (box[ENDS[axis][0]] + box[ENDS[axis][1]]) / 2;

/** Where a box leaves the same gap to a neighbour as that one leaves to its own, along an axis; and those gaps. */
function evened(box: Box, others: readonly Box[], axis: "x" | "y", near: number) {
  const [low, high] = ENDS[axis];
  const [side, far] = axis === "x" ? (["top", "bottom"] as const) : (["left", "right"] as const);
  const row = others
    .filter((one) => one[side] < box[far] && one[far] > box[side])
    .sort((a, b) => middle(a, axis) - middle(b, axis));
  let best: { by: number; gaps: Gap[] } | undefined;
  const at = (box[side] + box[far]) / 2;
  const gap = (from: number, to: number): Gap => ({ axis, from, to, at });
  const offer = (by: number, gaps: Gap[]) => {
    if (Math.abs(by) < Math.min(near, Math.abs(best?.by ?? near))) best = { by, gaps };
  };
  row.forEach((one, n) => {
    const next = row[n + 1];
    if (!next) return;
    const way = next[low] - one[high];
    if (way > 0) {
      // After the second of two, before the first of two, or in the middle between them.
      offer(next[high] + way - box[low], [gap(one[high], next[low]), gap(next[high], next[high] + way)]);
      offer(one[low] - way - box[high], [gap(one[high], next[low]), gap(one[low] - way, one[low])]);
    }
    const free = next[low] - one[high] - (box[high] - box[low]);
    if (free > 0)
      offer(one[high] + free / 2 - box[low], [
        gap(one[high], one[high] + free / 2),
        gap(next[low] - free / 2, next[low]),
      ]);
  });
  return best;
}

/** How far a box is drawn, each way by itself, to lines or to equal gaps; and what is to be shown of it. */
export function drawnOver(
  box: Box,
  others: readonly Box[],
  fixed: readonly Box[],
  near: number,
): { by: Point; lines: Drawn; gaps: Gap[] } {
  const { by, lines } = drawnToOthers(box, [...others, ...fixed], near);
  const found: [number, number] = [by[0], by[1]];
  const gaps: Gap[] = [];
  for (const [n, axis] of [
    [0, "x"],
    [1, "y"],
  ] as const) {
    if (lines[axis] !== undefined) continue;
    const even = evened(box, others, axis, near);
    if (!even) continue;
    found[n] = even.by;
    gaps.push(...even.gaps);
  }
  return { by: found, lines, gaps };
}
