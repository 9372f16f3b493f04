/**
 * Where places of a photo come to lie once it is put upright; the core owns it (sutaru/core/fitting/straightening.py): the lens
 * made straight, the camera turned back, what was in the middle still there, so much larger that the frame is filled.
 */
import type { KeepArea, Upright } from "../api/client";
import { ellipseOf } from "./areas";
import { apply, boundsOf, inverse, type Matrix, multiply, type Point, type Size } from "./placing";

const FOCAL = 40 / 36; // of the longer side
const BARREL = -0.25; // at a bend of 100, half the diagonal being 1

export interface Turned {
  to: (point: Point) => Point;
  from: (point: Point) => Point;
}

/** Photo px from photo px; undefined when nothing is turned. */
export function turned(upright: Upright, { width, height }: Size): Turned | undefined {
  const { pitch_deg: pitch = 0, yaw_deg: yaw = 0, roll_deg: roll = 0, bend = 0 } = upright;
  if (upright.on === false || !(pitch || yaw || roll || bend)) return undefined;
  const focal = FOCAL * Math.max(width, height);
  const unit = Math.hypot(width, height) / 2;
  const k = (BARREL * bend) / 100;
  const camera = cameraOf(focal, pitch, yaw, roll);
  const back = inverse(camera);
  const middle = apply(camera, [0, 0]);
  const straight = ([x, y]: Point): Point => {
    const by = 1 + (k * (x * x + y * y)) / unit ** 2;
    return [x / by, y / by];
  };
  const bent = ([x, y]: Point): Point => {
    const by = 2 / (1 + Math.sqrt(Math.max(0, 1 - (4 * k * (x * x + y * y)) / unit ** 2)));
    return [x * by, y * by];
  };
  const whence = ([x, y]: Point) => bent(apply(back, [x + middle[0], y + middle[1]]));
  const [w, h] = [width / 2, height / 2];
  const edge: Point[] = [];
  for (let n = 0; n <= 16; n++) {
    const [x, y] = [(n / 8 - 1) * w, (n / 8 - 1) * h];
    edge.push([x, -h], [x, h], [-w, y], [w, y]);
  }
  const fills = (by: number) =>
    edge.every(([x, y]) => {
      const [u, v] = whence([x / by, y / by]);
      return Math.abs(u) <= w * (1 + 1e-9) && Math.abs(v) <= h * (1 + 1e-9);
    });
  let [low, larger] = [0.2, 40];
  for (let n = 0; n < 50; n++) {
    const half = (low + larger) / 2;
    if (fills(half)) larger = half;
    else low = half;
  }
  return {
    to: ([x, y]) => {
      const [u, v] = apply(camera, straight([x - w, y - h]));
      return [(u - middle[0]) * larger + w, (v - middle[1]) * larger + h];
    },
    from: ([x, y]) => {
      const [u, v] = whence([(x - w) / larger, (y - h) / larger]);
      return [u + w, v + h];
    },
  };
}

function cameraOf(focal: number, pitch: number, yaw: number, roll: number): Matrix {
  const [p, y, r] = [pitch, yaw, roll].map((degrees) => (degrees * Math.PI) / 180) as [
    number,
    number,
    number,
  ];
  const aboutX = [1, 0, 0, 0, Math.cos(p), -Math.sin(p), 0, Math.sin(p), Math.cos(p)];
  const aboutY = [Math.cos(y), 0, Math.sin(y), 0, 1, 0, -Math.sin(y), 0, Math.cos(y)];
  const aboutZ = [Math.cos(r), Math.sin(r), 0, -Math.sin(r), Math.cos(r), 0, 0, 0, 1];
  const lens = [focal, 0, 0, 0, focal, 0, 0, 0, 1];
  return [aboutZ, aboutY, aboutX, inverse(lens)].reduce<Matrix>((all, one) => multiply(all, one), lens);
}

/** The box about where a keep area comes to lie, by its rim; undefined when that is off the photo. */
export function areaThrough(area: KeepArea, photo: Size, by: (point: Point) => Point): KeepArea | undefined {
  const { left, top, right, bottom } = boundsOf(ellipseOf(area, photo, 24).map(by));
  const share = (value: number, side: number) => Math.min(1, Math.max(0, value / side));
  const [x0, x1] = [share(left, photo.width), share(right, photo.width)];
  const [y0, y1] = [share(top, photo.height), share(bottom, photo.height)];
  const [width, height] = [x1 - x0 - 1e-9, y1 - y0 - 1e-9];
  return width > 1e-4 && height > 1e-4 ? { ...area, left: x0, top: y0, width, height } : undefined;
}
