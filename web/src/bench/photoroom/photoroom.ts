/** What the photo room works out: how the photo is seen there, level lines, areas, ratios. Areas are shares of the photo. */
import type { KeepArea } from "../../api/client";
import { boundsOf, type Lying, type Matrix, type Point } from "../../geometry/placing";
import { t } from "../../words";

interface Size {
  width: number;
  height: number;
}

export const WIDE = 720;
export const HIGH = 500;
export const RATIOS: [string, number | null][] = [
  [t("Opening"), null],
  ["2:3", 2 / 3],
  ["3:4", 3 / 4],
  ["4:5", 4 / 5],
  ["5:7", 5 / 7],
  ["1:1", 1],
  ["16:9", 16 / 9],
];

/** A named ratio, wide to high, standing the way the opening does; null for the opening's own. */
export function ratioOf(name: string, opening: { width_mm: number; height_mm: number }): number | null {
  const ratio = RATIOS.find(([label]) => label === name)?.[1] ?? null;
  const upright = opening.height_mm > opening.width_mm;
  return ratio === null || ratio === 1 ? ratio : upright === ratio < 1 ? ratio : 1 / ratio;
}

/** What a crop to a ratio leaves bare of an opening, in words. */
export function describeBare(outline: readonly Point[], ratio: number | null): string {
  if (!ratio) return t("Fills the opening.");
  const { left, top, right, bottom } = boundsOf(outline);
  const wide = right - left;
  const high = bottom - top;
  const [shown, where] =
    high * ratio < wide
      ? [(high * ratio) / wide, t("left and right")]
      : [wide / ratio / high, t("above and below")];
  const bare = Math.round(100 * (1 - shown));
  return bare ? t("Leaves {bare} % of the opening bare, {where}.", { bare, where }) : t("Fills the opening.");
}

/** The photo as the opening sees it, turned upright, all of it in view: screen px from photo px. */
export function screenFromPhoto(photo: Size, lying: Lying): Matrix {
  const turn = (lying.turn_deg * Math.PI) / 180;
  const wide = Math.abs(photo.width * Math.cos(turn)) + Math.abs(photo.height * Math.sin(turn));
  const high = Math.abs(photo.width * Math.sin(turn)) + Math.abs(photo.height * Math.cos(turn));
  const k = Math.min(WIDE / wide, HIGH / high);
  const flip = lying.mirror ? -1 : 1;
  // y runs down, so a turn counter-clockwise as seen is (c, s; -s, c); a mirrored photo is flipped first.
  const cos = Math.cos(turn) * k;
  const sin = Math.sin(turn) * k;
  return [
    cos * flip, sin, WIDE / 2 - cos * flip * (photo.width / 2) - sin * (photo.height / 2),
    -sin * flip, cos, HIGH / 2 + sin * flip * (photo.width / 2) - cos * (photo.height / 2),
    0, 0, 1,
  ]; // biome-ignore format: three rows
}

/** The turn that makes a line drawn on the screen level or upright, whichever it is nearer to; undefined for a mere dot. */
export function levelled(turn: number, from: Point, to: Point): number | undefined {
  if (Math.hypot(to[0] - from[0], to[1] - from[1]) < 12) return undefined;
  const angle = (Math.atan2(-(to[1] - from[1]), to[0] - from[0]) * 180) / Math.PI;
  const off = angle - Math.round(angle / 90) * 90;
  const level = Math.round((turn - off) * 100) / 100;
  return ((((level + 180) % 360) + 360) % 360) - 180;
}

/** Areas as marked by hand: what was changed once by hand is no longer the machine's. */
export const byHand = (areas: readonly KeepArea[]): KeepArea[] =>
  areas.map((area) => ({ ...area, kind: "hand" }));

const LEAST = 0.01;
const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** The area between two points of a photo, px; undefined when it is next to nothing. */
export function areaBetween(a: Point, b: Point, photo: Size): KeepArea | undefined {
  const sides = ([p, q]: [number, number], size: number) => {
    const [x, y] = [within(p / size, 0, 1), within(q / size, 0, 1)];
    return [Math.min(x, y), Math.abs(x - y)] as const;
  };
  const [left, width] = sides([a[0], b[0]], photo.width);
  const [top, height] = sides([a[1], b[1]], photo.height);
  return width < LEAST || height < LEAST ? undefined : { kind: "hand", left, top, width, height };
}

/** An area moved, or made larger at its lower right, by a vector of photo px; it stays on the photo. */
export function areaPulled(area: KeepArea, by: Point, photo: Size, size: boolean): KeepArea {
  const [dx, dy] = [by[0] / photo.width, by[1] / photo.height];
  return size
    ? {
        ...area,
        width: within(area.width + dx, LEAST, 1 - area.left),
        height: within(area.height + dy, LEAST, 1 - area.top),
      }
    : {
        ...area,
        left: within(area.left + dx, 0, 1 - area.width),
        top: within(area.top + dy, 0, 1 - area.height),
      };
}
