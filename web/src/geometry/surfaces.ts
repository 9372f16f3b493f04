/**
 * What pulling a surface needs of its mathematics; the core owns it (sutaru/core/geometry). Page space, mm, y down.
 * Corners run top left, top right, bottom right, bottom left of what is mapped.
 */
import type { Opening } from "../api/client";
import { apply, boundsOf, type Matrix, multiply, type Point } from "./placing";

export type Surface = Opening["surface"];
export type Net = Point[][];

const cross = (a: Point, b: Point, c: Point) => (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);

/** Whether four corners neither fold nor cave in. */
export function isConvex(quad: readonly Point[]): boolean {
  const turns = quad.map((point, index) =>
    cross(point, quad[(index + 1) % 4] as Point, quad[(index + 2) % 4] as Point),
  );
  return turns.every((turn) => turn > 1e-6) || turns.every((turn) => turn < -1e-6);
}

/** The homography from the box about an outline to four corners (Heckbert 1989), nine numbers row by row. */
export function quadFromBox(outline: readonly Point[], quad: readonly Point[]): Matrix {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = quad as [Point, Point, Point, Point];
  const sx = x0 - x1 + x2 - x3;
  const sy = y0 - y1 + y2 - y3;
  const det = (x1 - x2) * (y3 - y2) - (x3 - x2) * (y1 - y2);
  const g = (sx * (y3 - y2) - (x3 - x2) * sy) / det;
  const h = ((x1 - x2) * sy - sx * (y1 - y2)) / det;
  const onto = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
  const box = boundsOf(outline);
  const w = box.right - box.left;
  const d = box.bottom - box.top;
  return multiply(onto, [1 / w, 0, -box.left / w, 0, 1 / d, -box.top / d, 0, 0, 1]);
}

/** A point of a Bezier patch, u across and v down, by de Casteljau's algorithm. */
export function onPatch(net: Net, u: number, v: number): Point {
  const along = (points: readonly Point[], t: number): Point => {
    let level = points.map(([x, y]) => [x, y] as Point);
    while (level.length > 1)
      level = level.slice(1).map((q, index) => {
        const p = level[index] as Point;
        return [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t] as Point;
      });
    return level[0] as Point;
  };
  return along(
    net.map((row) => along(row, u)),
    v,
  );
}

/** Where points of an opening's plane come to lie on the page: by a matrix, or one by one where the surface is bent. */
export interface Lay {
  matrix?: Matrix;
  to: (point: Point) => Point;
}

export const layBy = (matrix: Matrix): Lay => ({ matrix, to: (point) => apply(matrix, point) });

/** How a surface lays the plane of an opening with this outline. */
export function layOf(surface: Surface, outline: readonly Point[]): Lay {
  if (surface.kind === "corners") return layBy(quadFromBox(outline, surface.points));
  if (surface.kind === "grid") {
    const box = boundsOf(outline);
    const net = surface.net;
    return {
      to: ([x, y]) =>
        onPatch(net, (x - box.left) / (box.right - box.left), (y - box.top) / (box.bottom - box.top)),
    };
  }
  const radians = (degrees = 0) => (degrees * Math.PI) / 180;
  const [x, y] = surface.centre;
  const c = Math.cos(radians(surface.turn_deg));
  const s = Math.sin(radians(surface.turn_deg));
  const turned = [c, s, x, -s, c, y, 0, 0, 1];
  if (surface.kind === "flat") {
    const skew = -Math.tan(radians(surface.skew_deg));
    return layBy(
      multiply(multiply(turned, [1, skew, 0, 0, 1, 0, 0, 0, 1]), [
        surface.stretch_x ?? 1, 0, 0, 0, surface.stretch_y ?? 1, 0, 0, 0, 1,
      ]), // biome-ignore format: a matrix
    );
  }
  const { radius_mm: r } = surface;
  const tilt = radians(surface.tilt_deg);
  return {
    to: ([px, py]) =>
      apply(turned, [
        r * Math.sin(px / r),
        py * Math.cos(tilt) + r * (Math.cos(px / r) - 1) * Math.sin(tilt),
      ]),
  };
}

/** A polygon's sides cut into short ones, which bend where a surface does. */
export const cutShort = (polygon: readonly Point[], most: number): Point[] =>
  polygon.flatMap((from, index) => {
    const to = polygon[(index + 1) % polygon.length] as Point;
    const count = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / most));
    return Array.from(
      { length: count },
      (_, n): Point => [from[0] + ((to[0] - from[0]) * n) / count, from[1] + ((to[1] - from[1]) * n) / count],
    );
  });

/** A polygon of an opening's plane where it lies on the page; its sides bend with the surface. */
export function laid(polygon: readonly Point[], { matrix, to }: Lay): Point[] {
  if (matrix) return polygon.map(to);
  const box = boundsOf(polygon);
  return cutShort(polygon, Math.max(box.right - box.left, box.bottom - box.top) / 24).map(to);
}

/** Curves of a patch along its rows and columns, as polylines. */
export function meshOf(net: Net, lines = 4, steps = 16): Point[][] {
  const t = Array.from({ length: steps + 1 }, (_, index) => index / steps);
  const polygons: Point[][] = [];
  for (let n = 0; n <= lines; n++) {
    polygons.push(t.map((u) => onPatch(net, u, n / lines)));
    polygons.push(t.map((v) => onPatch(net, n / lines, v)));
  }
  return polygons;
}

/** A net of so many rows and columns that lies as flat as four corners do. */
export function netOver(quad: readonly Point[], rows: number, columns: number): Net {
  const [a, b, c, d] = quad as [Point, Point, Point, Point];
  const square: Net = [
    [a, b],
    [d, c],
  ];
  return Array.from({ length: rows }, (_, j) =>
    Array.from({ length: columns }, (_, i) => onPatch(square, i / (columns - 1), j / (rows - 1))),
  );
}

/** A net of another size that lies on the same patch, point by point (it bends a little less or more between them). */
export const netAgain = (net: Net, rows: number, columns: number): Net =>
  Array.from({ length: rows }, (_, j) =>
    Array.from({ length: columns }, (_, i) => onPatch(net, i / (columns - 1), j / (rows - 1))),
  );

/** The corners that four corners become when the pulled one keeps a helper: both upright sides equally high, or sides parallel. */
export function helped(
  before: readonly Point[],
  place: number,
  to: Point,
  help: "free" | "height" | "parallel",
): Point[] {
  const quad = before.map((point) => [point[0], point[1]] as Point);
  quad[place] = to;
  const [a, b, c, d] = quad as [Point, Point, Point, Point];
  if (help === "parallel") {
    // Opposite sides stay parallel: the corner next along the side follows by as much.
    const old = before[place] as Point;
    const mate = [3, 2, 1, 0][place] as number;
    const move: Point = [to[0] - old[0], to[1] - old[1]];
    const other = before[mate] as Point;
    quad[mate] = [other[0] + move[0], other[1] + move[1]];
  } else if (help === "height") {
    // The other upright side becomes as high as the one that is pulled, about its own middle.
    const left = place === 0 || place === 3;
    const [top, bottom] = left ? [a, d] : [b, c];
    const high = bottom[1] - top[1];
    const [p, q] = left ? [1, 2] : [0, 3];
    const upper = quad[p as number] as Point;
    const lower = quad[q as number] as Point;
    const middle = (upper[1] + lower[1]) / 2;
    quad[p as number] = [upper[0], middle - high / 2];
    quad[q as number] = [lower[0], middle + high / 2];
  }
  return quad;
}

/** The nearest multiple of a step, each coordinate by itself. */
export const onGrid = ([x, y]: Point, step: number): Point => [
  Math.round(x / step) * step,
  Math.round(y / step) * step,
];
