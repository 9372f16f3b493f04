/** Drawing what is pulled to where it is likely meant to lie. */
import type { Drawn } from "../geometry/lines";
import { apply, boundsOf, type Lying, openingFromPhoto, type Point, shifted } from "../geometry/placing";
import type { Held } from "./fitting";

/**
 * A photo's middle drawn to the opening's middle, or what must stay visible to its middle or thirds, when within `near` mm;
 * and the lines that it was drawn to.
 */
export function drawnToLines(now: Held, lying: Lying, near: number): { lying: Lying; lines?: Drawn } {
  const box = boundsOf(now.outline);
  const onto = openingFromPhoto(now.outline, now.photo, lying);
  const area = now.keeps[0]?.seen;
  const place = (fx: number, fy: number) => apply(onto, [fx * now.photo.width, fy * now.photo.height]);
  const middle = place(0.5, 0.5);
  const kept = area && place(area.left + area.width / 2, area.top + area.height / 2);
  const by: [number, number] = [0, 0];
  const lines: Drawn = {};
  for (const [axis, low, size] of [
    [0, box.left, box.right - box.left],
    [1, box.top, box.bottom - box.top],
  ] as const) {
    const [half, ...thirds] = [low + size / 2, low + size / 3, low + (2 * size) / 3] as const;
    const pairs: [Point, number][] = [[middle, half]];
    if (kept) for (const line of [half, ...thirds]) pairs.push([kept, line]);
    let best = near;
    for (const [mark, line] of pairs) {
      const off = line - mark[axis];
      if (Math.abs(off) >= best) continue;
      best = Math.abs(off);
      by[axis] = off;
      lines[axis === 0 ? "x" : "y"] = line;
    }
  }
  return {
    lying: shifted(now.outline, now.photo, lying, by),
    lines: Object.keys(lines).length ? lines : undefined,
  };
}

/** A turn in degrees, drawn to the whole degree it nearly is, between -180 and 180, in hundredths. */
export function drawnTurn(turn: number, free: boolean): number {
  const near = !free && Math.abs(turn - Math.round(turn)) < 0.3 ? Math.round(turn) : turn;
  return Math.round((((((near + 180) % 360) + 360) % 360) - 180) * 100) / 100;
}
