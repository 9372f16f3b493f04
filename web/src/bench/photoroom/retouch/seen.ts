/** How the photo room works out what is seen of a photo, and what was drawn on it. Points are photo px unless said otherwise. */
import type { Touch } from "../../../api/client";
import type { Point } from "../../../geometry/placing";
import { t } from "../../../words";

export interface Size {
  width: number;
  height: number;
}
/** Screen px from photo px: `k` screen px a photo px, the photo's corner at x, y. */
export interface Seen {
  k: number;
  x: number;
  y: number;
}
export type Area = Extract<Touch, { kind: "adjust" }>["area"];
export type CoverArea = Extract<Touch, { kind: "cover" }>["area"];

export const TILE = 512;
const COARSEST = 7;
const CLOSEST = 16;

export const longer = ({ width, height }: Size) => Math.max(width, height);

/** All of the photo, in the middle of a window, a little away from its edges. */
export function wholly(photo: Size, room: Size): Seen {
  const k = Math.min((room.width - 24) / photo.width, (room.height - 24) / photo.height);
  return at(k, [photo.width / 2, photo.height / 2], [room.width / 2, room.height / 2]);
}

/** So close, with a point of the photo at a point of the screen. */
export const at = (k: number, point: Point, screen: Point): Seen => ({
  k,
  x: screen[0] - point[0] * k,
  y: screen[1] - point[1] * k,
});

export const toPhoto = ({ k, x, y }: Seen, [sx, sy]: Point): Point => [(sx - x) / k, (sy - y) / k];
export const toScreen = ({ k, x, y }: Seen, [px, py]: Point): Point => [px * k + x, py * k + y];

/** Closer or further, what lies under a point of the screen staying there. */
export function zoomedAt(seen: Seen, by: number, screen: Point, photo: Size, room: Size): Seen {
  const least = Math.min(wholly(photo, room).k, 1) / 2;
  return at(Math.min(CLOSEST, Math.max(least, seen.k * by)), toPhoto(seen, screen), screen);
}

/** The level of tiles that is as fine as the screen, `dots` of which are one of its px. */
export const levelOf = (k: number, dots: number) =>
  Math.min(COARSEST, Math.max(0, Math.floor(Math.log2(1 / (k * dots)) + 1e-6)));

export interface Tile {
  level: number;
  x: number;
  y: number;
}
export const tileKey = ({ level, x, y }: Tile) => `${level}/${x}/${y}`;

/** The tiles of a level that a window of the screen shows. */
export function tilesSeen(seen: Seen, room: Size, photo: Size, level: number): Tile[] {
  const step = TILE * 2 ** level;
  const [left, top] = toPhoto(seen, [0, 0]);
  const [right, bottom] = toPhoto(seen, [room.width, room.height]);
  const within = (value: number, most: number) =>
    Math.min(Math.ceil(most / step) - 1, Math.max(0, Math.floor(value / step)));
  if (right <= 0 || bottom <= 0 || left >= photo.width || top >= photo.height) return [];
  const tiles: Tile[] = [];
  for (let y = within(top, photo.height); y <= within(bottom - 1e-6, photo.height); y++)
    for (let x = within(left, photo.width); x <= within(right - 1e-6, photo.width); x++)
      tiles.push({ level, x, y });
  return tiles;
}

/** The box of a tile on the photo. */
export function tileBox({ level, x, y }: Tile, photo: Size): [number, number, number, number] {
  const step = TILE * 2 ** level;
  return [
    x * step,
    y * step,
    Math.min(step, photo.width - x * step),
    Math.min(step, photo.height - y * step),
  ];
}

/** Which points of a line are enough that none is further off than `most` (D. H. Douglas and T. K. Peucker, 1973). */
export function enough(points: readonly Point[], most: number): number[] {
  if (points.length < 3) return points.map((_, n) => n);
  const indices = new Set([0, points.length - 1]);
  const parts: [number, number][] = [[0, points.length - 1]];
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [from, to] = part;
    const [a, b] = [points[from] as Point, points[to] as Point];
    const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
    let [far, which] = [most, -1];
    for (let n = from + 1; n < to; n++) {
      const p = points[n] as Point;
      const off = long
        ? Math.abs((b[0] - a[0]) * (a[1] - p[1]) - (a[0] - p[0]) * (b[1] - a[1])) / long
        : Math.hypot(p[0] - a[0], p[1] - a[1]);
      if (off > far) [far, which] = [off, n];
    }
    if (which < 0) continue;
    indices.add(which);
    parts.push([from, which], [which, to]);
  }
  return [...indices].sort((a, b) => a - b);
}

const short = (value: number) => Math.round(value * 1e6) / 1e6;
/** A place as it is stored: fractions. */
export const place = ([x, y]: Point, photo: Size): [number, number] => [
  short(Math.min(2, Math.max(-1, x / photo.width))),
  short(Math.min(2, Math.max(-1, y / photo.height))),
];
export const placed = ([x, y]: readonly number[], photo: Size): Point => [
  (x ?? 0) * photo.width,
  (y ?? 0) * photo.height,
];

/** What a brush passed over, with no more points than it takes. `radius`: of the longer side. */
export function stroked(
  points: readonly Point[],
  pressed: readonly number[],
  radius: number,
  soft: number,
  photo: Size,
): CoverArea {
  const some = enough(points, (radius * longer(photo)) / 12);
  const hard = pressed.every((press) => press > 0.98);
  return {
    kind: "stroke",
    points: some.map((n) => place(points[n] as Point, photo)),
    radius: short(radius),
    pressed: hard ? [] : some.map((n) => short(pressed[n] ?? 1)),
    soft,
  };
}

/** What a drawn line encloses; undefined when that is next to nothing. */
export function outlined(points: readonly Point[], soft: number, photo: Size): CoverArea | undefined {
  const some = enough(points, longer(photo) / 2000).map((n) => points[n] as Point);
  let twice = 0;
  some.forEach((p, n) => {
    const q = some[(n + 1) % some.length] as Point;
    twice += p[0] * q[1] - q[0] * p[1];
  });
  if (some.length < 3 || Math.abs(twice) / 2 < 16) return undefined;
  return { kind: "outlined", points: some.map((point) => place(point, photo)), soft };
}

/** Where a source lies, and how it is seen: mirrored, turned (degrees, counter-clockwise), scaled about a pair of points. */
export interface Source {
  at: Point;
  from: Point;
  turn_deg: number;
  mirror: boolean;
  scale: number;
}

/** The linear part of the way from a place to whence it is covered: rows x, y. */
export function back({
  turn_deg,
  mirror,
  scale,
}: Pick<Source, "turn_deg" | "mirror" | "scale">): [number, number, number, number] {
  const turn = (turn_deg * Math.PI) / 180;
  const flip = mirror ? -1 : 1;
  const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  return [cos * flip, -sin * flip, sin, cos];
}

/** Whence a place is covered. */
export function whence(source: Source, [x, y]: Point): Point {
  const [a, b, c, d] = back(source);
  const [dx, dy] = [x - source.at[0], y - source.at[1]];
  return [source.from[0] + a * dx + b * dy, source.from[1] + c * dx + d * dy];
}

/** How far away a touch that begins at a point has its source: fractions, as it is stored. */
export function shiftAt(source: Source, point: Point, photo: Size): [number, number] {
  const from = whence(source, point);
  return [short((from[0] - point[0]) / photo.width), short((from[1] - point[1]) / photo.height)];
}

/** An area moved by a vector of photo px. */
export function movedArea<A extends Area>(area: A, by: Point, photo: Size): A {
  const [dx, dy] = [by[0] / photo.width, by[1] / photo.height];
  const move = ([x, y]: readonly number[]): [number, number] => [
    short(Math.min(2, Math.max(-1, (x ?? 0) + dx))),
    short(Math.min(2, Math.max(-1, (y ?? 0) + dy))),
  ];
  if (area.kind === "round") return { ...area, centre: move(area.centre) };
  if (area.kind === "graded") return { ...area, start: move(area.start), end: move(area.end) };
  if (area.kind === "cut") return { ...area, rings: area.rings.map((ring) => ring.map(move)) };
  return { ...area, points: area.points.map(move) };
}

/** A touch moved by a vector of photo px; its source goes along. */
export function movedTouch(touch: Touch | undefined, by: Point, photo: Size): Touch | undefined {
  if (!touch) return undefined;
  if (touch.kind === "eye") {
    const [x = 0, y = 0] = touch.centre;
    return { ...touch, centre: [x + by[0] / photo.width, y + by[1] / photo.height] };
  }
  return { ...touch, area: movedArea(touch.area as Area, by, photo) } as Touch;
}

/** The middle of a touch, photo px. */
export function middleOf(touch: Touch, photo: Size): Point {
  if (touch.kind === "eye") return placed(touch.centre, photo);
  const { area } = touch;
  if (area.kind === "round") return placed(area.centre, photo);
  if (area.kind === "graded") return placed(area.start, photo);
  const all = area.kind === "cut" ? area.rings.flat() : area.points;
  const points = all.map((point) => placed(point, photo));
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

const COVERS = { clone: t("Clone"), heal: t("Heal"), fill: t("Fill") };
const AREAS = {
  stroke: t("Brush"),
  outlined: t("Outline"),
  round: t("Round"),
  graded: t("Gradient"),
  cut: t("Subject"),
};

/** What a touch has cut out of the photo. */
export const cutOf = (touch: Touch | undefined): Extract<Area, { kind: "cut" }> | undefined =>
  touch && "area" in touch && touch.area.kind === "cut" ? touch.area : undefined;

/** What a touch is called in the list. */
export function nameOf(touch: Touch): string {
  if (touch.kind === "eye") return t("Eye");
  if (touch.kind === "cover") return COVERS[touch.how ?? "heal"];
  if (touch.kind === "free")
    return touch.backdrop ? t("Subject: stands free") : t("Subject: before the page");
  const what = [
    touch.light ? (touch.light > 0 ? "lighter" : "darker") : "",
    touch.warmth ? (touch.warmth > 0 ? "warmer" : "cooler") : "",
    touch.saturation ? (touch.saturation > 0 ? t("more colour") : t("less colour")) : "",
    touch.sharpness ? (touch.sharpness > 0 ? "sharper" : "softer") : "",
    touch.colour ? t("in a colour") : "",
  ].filter(Boolean);
  const { area } = touch;
  const where = area.kind === "cut" && area.outside ? t("Backdrop") : AREAS[area.kind ?? "stroke"];
  return `${where}: ${what.join(", ") || t("nothing yet")}`;
}

export const freshId = () => `t${crypto.randomUUID().replaceAll("-", "").slice(0, 12)}`;
