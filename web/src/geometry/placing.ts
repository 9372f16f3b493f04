/**
 * What a live drag needs of the placement's mathematics; the core owns it (sutaru/core/fitting/placing.py).
 * Opening space is mm about the opening's centre, y down; photo points are fractions of width and height;
 * angles are degrees, counter-clockwise as seen. Matrices are nine numbers, row by row.
 */
import type { Placement } from "../api/client";

export type Matrix = readonly number[];
export type Point = readonly [number, number];
export interface Size {
  width: number;
  height: number;
}
export type Lying = Required<Omit<Placement, "photo" | "ratio">> & { ratio: number | null };

export const MAX_ZOOM = 50;

export function multiply(a: Matrix, b: Matrix): number[] {
  const out: number[] = [];
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++)
      out.push(
        (a[3 * r] ?? 0) * (b[c] ?? 0) +
          (a[3 * r + 1] ?? 0) * (b[3 + c] ?? 0) +
          (a[3 * r + 2] ?? 0) * (b[6 + c] ?? 0),
      );
  return out;
}

export function apply(m: Matrix, [x, y]: Point): Point {
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0, g = 0, h = 0, i = 1] = m;
  const w = g * x + h * y + i;
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
}

export function inverse(m: Matrix): number[] {
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0, g = 0, h = 0, i = 1] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    e * i - f * h, c * h - b * i, b * f - c * e,
    f * g - d * i, a * i - c * g, c * d - a * f,
    d * h - e * g, b * g - a * h, a * e - b * d,
  ].map((value) => value / det); // biome-ignore format: three rows
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** A vector of opening space along the axes of a turned, perhaps mirrored photo. */
export function alongPhoto([x, y]: Point, turn: number, mirror: boolean): Point {
  const c = Math.cos(radians(turn));
  const s = Math.sin(radians(turn));
  const u = c * x - s * y;
  return [mirror ? -u : u, s * x + c * y];
}

/** The least and most of points along both axes. */
export function boundsOf(points: readonly Point[]) {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

/** The largest rectangle of a ratio in the middle of the box about the outline. */
export function windowOf(outline: readonly Point[], ratio: number): Point[] {
  const box = boundsOf(outline);
  const x = Math.min(box.right - box.left, (box.bottom - box.top) * ratio) / 2;
  const y = x / ratio;
  const cx = (box.left + box.right) / 2;
  const cy = (box.top + box.bottom) / 2;
  return [
    [cx - x, cy - y],
    [cx + x, cy - y],
    [cx + x, cy + y],
    [cx - x, cy + y],
  ];
}

/** What shows of an outline: all of it, or its window. */
export const shownOf = (outline: readonly Point[], lying: Pick<Lying, "ratio">): readonly Point[] =>
  lying.ratio ? windowOf(outline, lying.ratio) : outline;

function extents(outline: readonly Point[], turn: number, mirror: boolean) {
  const corners = outline.map((point) => alongPhoto(point, turn, mirror));
  const xs = corners.map((p) => p[0]);
  const ys = corners.map((p) => p[1]);
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}

/** mm in opening space per photo px. */
export function scale(outline: readonly Point[], photo: Size, lying: Lying): number {
  if (lying.fit !== "cover") {
    const box = extents(outline, 0, false);
    const c = Math.abs(Math.cos(radians(lying.turn_deg)));
    const s = Math.abs(Math.sin(radians(lying.turn_deg)));
    return (
      2 *
      Math.min(
        Math.min(-box.left, box.right) / (photo.width * c + photo.height * s),
        Math.min(-box.top, box.bottom) / (photo.width * s + photo.height * c),
      )
    );
  }
  const reach = extents(shownOf(outline, lying), lying.turn_deg, lying.mirror);
  return (
    Math.max((reach.right - reach.left) / photo.width, (reach.bottom - reach.top) / photo.height) * lying.zoom
  );
}

/** The nearest placement that leaves no gap. */
export function clamped(outline: readonly Point[], photo: Size, lying: Lying): Lying {
  if (lying.fit !== "cover") return { ...lying, centre: [0.5, 0.5], zoom: 1, ratio: null };
  const held = { ...lying, zoom: Math.min(Math.max(lying.zoom, 1), MAX_ZOOM) };
  const reach = extents(shownOf(outline, held), held.turn_deg, held.mirror);
  const k = scale(outline, photo, held);
  const within = (value: number, low: number, high: number, size: number) => {
    const least = -low / k / size;
    const most = 1 - high / k / size;
    return least > most ? (least + most) / 2 : Math.min(Math.max(value, least), most);
  };
  const centre: [number, number] = [
    within(held.centre[0], reach.left, reach.right, photo.width),
    within(held.centre[1], reach.top, reach.bottom, photo.height),
  ];
  return { ...held, centre };
}

/** Photo px to opening mm. */
export function openingFromPhoto(outline: readonly Point[], photo: Size, lying: Lying): number[] {
  const k = scale(outline, photo, lying);
  const c = Math.cos(radians(lying.turn_deg));
  const s = Math.sin(radians(lying.turn_deg));
  const x = lying.centre[0] * photo.width;
  const y = lying.centre[1] * photo.height;
  const kx = lying.mirror ? -k : k;
  return [c * kx, s * k, -c * kx * x - s * k * y, -s * kx, c * k, s * kx * x - c * k * y, 0, 0, 1];
}

/** The placement after the photo is pulled by a vector of opening space. */
export function shifted(outline: readonly Point[], photo: Size, lying: Lying, by: Point): Lying {
  const cover: Lying = { ...lying, fit: "cover" };
  const k = scale(outline, photo, cover);
  const [u, v] = alongPhoto(by, lying.turn_deg, lying.mirror);
  const centre: [number, number] = [
    lying.centre[0] - u / k / photo.width,
    lying.centre[1] - v / k / photo.height,
  ];
  return clamped(outline, photo, { ...cover, centre });
}

/** The placement zoomed by a factor about a point of opening space, which stays over the same photo point. */
export function zoomed(
  outline: readonly Point[],
  photo: Size,
  lying: Lying,
  factor: number,
  about: Point,
): Lying {
  const cover: Lying = { ...lying, fit: "cover" };
  const zoom = Math.min(Math.max(cover.zoom * factor, 1), MAX_ZOOM);
  const before = scale(outline, photo, cover);
  const after = (before / cover.zoom) * zoom;
  const [u, v] = alongPhoto(about, lying.turn_deg, lying.mirror);
  const move = 1 / before - 1 / after;
  const centre: [number, number] = [
    lying.centre[0] + (u * move) / photo.width,
    lying.centre[1] + (v * move) / photo.height,
  ];
  return clamped(outline, photo, { ...cover, zoom, centre });
}

/** A homography of the plane as a CSS transform. */
export function cssMatrix(m: Matrix): string {
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0, g = 0, h = 0, i = 1] = m;
  return `matrix3d(${[a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i].join(",")})`;
}

/** A polygon as SVG path data. */
export const path = (points: readonly Point[]) =>
  `M${points.map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join("L")}Z`;
