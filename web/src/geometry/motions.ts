/** Motions of the page: maps from page to page, mm. Angles are counter-clockwise as seen. */
import { apply, type Matrix, multiply, type Point } from "./placing";

/** A plane on the page: its middle, its axes (of length 1), and how much of it is meant. */
export interface Plane {
  middle: Point;
  across: Point;
  down: Point;
  width: number;
  height: number;
}

/** The plane of a frame, given by its corners from the upper left one on; undefined where it has no width or height. */
export function planeOf(frame: readonly Point[] | undefined): Plane | undefined {
  const [a, b, c, d] = frame ?? [];
  if (!a || !b || !c || !d || frame?.length !== 4) return undefined;
  const width = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const height = Math.hypot(d[0] - a[0], d[1] - a[1]);
  if (!width || !height) return undefined;
  return {
    middle: [(a[0] + c[0]) / 2, (a[1] + c[1]) / 2],
    across: [(b[0] - a[0]) / width, (b[1] - a[1]) / width],
    down: [(d[0] - a[0]) / height, (d[1] - a[1]) / height],
    width,
    height,
  };
}

export const shifting = ([x, y]: Point): Matrix => [1, 0, x, 0, 1, y, 0, 0, 1];

/** Turns the page about a point. */
export function turning([x, y]: Point, degrees: number): Matrix {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [c, s, x - c * x - s * y, -s, c, y + s * x - c * y, 0, 0, 1];
}

/** Takes a plane to another size and middle, along its own axes. */
export function stretching(plane: Plane, to: Pick<Plane, "middle" | "width" | "height">): Matrix {
  const { across: u, down: v, middle } = plane;
  const onto: Matrix = [u[0], v[0], 0, u[1], v[1], 0, 0, 0, 1];
  const back: Matrix = [u[0], u[1], 0, v[0], v[1], 0, 0, 0, 1];
  const stretch: Matrix = [to.width / plane.width, 0, 0, 0, to.height / plane.height, 0, 0, 0, 1];
  const inner = multiply(multiply(onto, stretch), back);
  return multiply(shifting(to.middle), multiply(inner, shifting([-middle[0], -middle[1]])));
}

/** Scales and skews the page about a point, as an edit that carries layers does before it turns them. */
export function scaling([x, y]: Point, [across, down]: Point, skew: number): Matrix {
  const slope = Math.tan((skew * Math.PI) / 180);
  return [across, -slope * down, x - across * x + slope * down * y, 0, down, y - down * y, 0, 0, 1];
}

export const moved = (points: readonly Point[], by: Matrix): [number, number][] =>
  points.map((point) => [...apply(by, point)]);
