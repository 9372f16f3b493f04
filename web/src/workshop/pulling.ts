/** Pulls in the workshop, as pure figures: what a pull makes of frames on the page, and the edit that keeps it. */
import type { Said } from "../editing/changes";
import { type Plane, planeOf } from "../geometry/motions";
import type { Point } from "../geometry/placing";
import { type Box, boxAbout, found, hasSides, type Layer, placedAt, round, rounded, turnOf } from "./layers";

type Frames = ReadonlyMap<string, readonly Point[]>;
/** Which handle: -1 left or top, 1 right or bottom, 0 neither. */
export type Handle = readonly [number, number];
export const HANDLES: readonly Handle[] = [
  [-1, -1], [0, -1], [1, -1], [1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0],
]; // biome-ignore format: round the box

/** What is selected, as it can be taken hold of: a plane with its middle, axes and size on the page. */
export interface Held extends Plane {
  ids: readonly string[];
  /** One layer whose width and height can be set, in its own plane. */
  alone?: Layer;
  /** Only evenly made larger or smaller: something in it is turned. */
  even: boolean;
}

const LEAST = 1; // mm

/** What is selected, ready to be pulled. */
export function heldOf(layers: readonly Layer[], frames: Frames, ids: readonly string[]): Held | undefined {
  const only = ids.length === 1 ? found(layers, ids[0] ?? "") : undefined;
  const plane = only && hasSides(only) ? planeOf(frames.get(only.id)) : undefined;
  if (plane) return { ids, ...plane, alone: only, even: false };
  const box = boxAbout(layers, frames, ids);
  if (!box) return undefined;
  const inside = (layer: Layer | undefined): boolean =>
    !!layer &&
    (layer.kind === "group" ? (layer.layers ?? []).some(inside) : Math.abs(turnOf(layer) % 90) > 1e-6);
  return {
    ids,
    middle: [(box.left + box.right) / 2, (box.top + box.bottom) / 2],
    across: [1, 0],
    down: [0, 1],
    width: box.right - box.left,
    height: box.bottom - box.top,
    even: ids.some((id) => inside(found(layers, id))),
  };
}

/** A point of what is held: (-1, -1) is its upper left corner, (0, 0) its middle. */
export const pointOf = ({ middle, across, down, width, height }: Held, [x, y]: Handle): Point => [
  middle[0] + (x * width * across[0]) / 2 + (y * height * down[0]) / 2,
  middle[1] + (x * width * across[1]) / 2 + (y * height * down[1]) / 2,
];

export interface Sized {
  width: number;
  height: number;
  middle: Point;
  fixed: Point;
}

/** What is held once a handle was pulled to a point; what lies opposite stays. `ratio` is kept when given. */
export function sized(held: Held, handle: Handle, to: Point, ratio?: number): Sized {
  const fixed = pointOf(held, [-handle[0], -handle[1]]);
  const way: Point = [to[0] - fixed[0], to[1] - fixed[1]];
  const along = (axis: Point) => way[0] * axis[0] + way[1] * axis[1];
  let width = handle[0] ? Math.max(LEAST, handle[0] * along(held.across)) : held.width;
  let height = handle[1] ? Math.max(LEAST, handle[1] * along(held.down)) : held.height;
  const kept = ratio ?? (held.even ? held.width / held.height : undefined);
  if (kept) {
    // The larger of the two ways decides; a side's handle takes the other side with it.
    if (handle[0] && (!handle[1] || width / kept > height)) height = width / kept;
    else width = height * kept;
  }
  return atSize(held, handle, width, height);
}

/** What is held at another size; what lies opposite a handle stays. */
export function atSize(held: Held, handle: Handle, width: number, height: number): Sized {
  const fixed = pointOf(held, [-handle[0], -handle[1]]);
  const middle: Point = [
    fixed[0] + (handle[0] * width * held.across[0]) / 2 + (handle[1] * height * held.down[0]) / 2,
    fixed[1] + (handle[0] * width * held.across[1]) / 2 + (handle[1] * height * held.down[1]) / 2,
  ];
  return { width, height, middle, fixed };
}

/** The edit that keeps a new size. */
export function sizing(held: Held, to: Sized): Said {
  if (held.alone)
    return {
      op: "set_fields",
      layers: [held.alone.id],
      fields: placedAt(held.alone, to.middle, to.width, to.height),
      expect: {},
    };
  return {
    op: "carry",
    layers: [...held.ids],
    about: rounded(to.fixed),
    scale: [round(to.width / held.width), round(to.height / held.height)],
  };
}

/** The turn from one point to another about a third, degrees counter-clockwise as seen. */
export function turnBetween([x, y]: Point, from: Point, to: Point): number {
  const angle = ([a, b]: Point) => (Math.atan2(-(b - y), a - x) * 180) / Math.PI;
  return ((((angle(to) - angle(from) + 180) % 360) + 360) % 360) - 180;
}

/** The box from one corner to where it was pulled, of a ratio when one is kept. */
export function pulledBox(from: Point, to: Point, ratio?: number): Box {
  let [w, h] = [to[0] - from[0], to[1] - from[1]];
  if (ratio) {
    if (Math.abs(w) / ratio > Math.abs(h)) h = Math.sign(h || 1) * (Math.abs(w) / ratio);
    else w = Math.sign(w || 1) * Math.abs(h) * ratio;
  }
  const [x, y] = [from[0] + w, from[1] + h];
  return {
    left: Math.min(from[0], x),
    right: Math.max(from[0], x),
    top: Math.min(from[1], y),
    bottom: Math.max(from[1], y),
  };
}
