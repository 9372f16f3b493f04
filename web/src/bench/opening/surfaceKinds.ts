/** Surfaces of one kind made of another: points are on the page, mm. */
import type { Row } from "../../api/client";
import { apply, boundsOf, type Point } from "../../geometry/placing";
import { netOver, type Surface } from "../../geometry/surfaces";

/** A point in whole micrometres, as it is stored. */
export const pair = ([x, y]: Point): [number, number] => [
  Math.round(x * 1000) / 1000,
  Math.round(y * 1000) / 1000,
];

/** Where the four corners of the box about an opening lie now. */
export function cornersOf(row: Row, surface: Surface): Point[] {
  if (surface.kind === "corners") return surface.points;
  if (surface.kind === "grid") {
    const net = surface.net;
    const last = net.length - 1;
    const end = (net[0]?.length ?? 1) - 1;
    return [net[0]?.[0], net[0]?.[end], net[last]?.[end], net[last]?.[0]] as Point[];
  }
  const box = boundsOf(row.outline);
  return (
    [
      [box.left, box.top],
      [box.right, box.top],
      [box.right, box.bottom],
      [box.left, box.bottom],
    ] as Point[]
  ).map((point) => apply(row.page_from_opening, point));
}

/** A surface of another kind that lies where this one does, as nearly as it can. */
export function surfaceAs(kind: string, row: Row, surface: Surface): Surface {
  const quad = cornersOf(row, surface);
  const middle = pair([quad.reduce((s, p) => s + p[0], 0) / 4, quad.reduce((s, p) => s + p[1], 0) / 4]);
  const [a, b] = quad as [Point, Point];
  const turn = Math.round((Math.atan2(a[1] - b[1], b[0] - a[0]) * 1800) / Math.PI) / 10;
  if (kind === "corners") return { kind: "corners", points: quad.map(pair) } as Surface;
  if (kind === "grid")
    return { kind: "grid", net: netOver(quad, 4, 4).map((line) => line.map(pair)) } as Surface;
  if (kind === "roll")
    return {
      kind: "roll",
      centre: middle,
      radius_mm: Math.round(row.width_mm * 5) / 10,
      tilt_deg: 15,
      turn_deg: turn,
    };
  return { kind: "flat", centre: middle, turn_deg: turn, stretch_x: 1, stretch_y: 1, skew_deg: 0 };
}
