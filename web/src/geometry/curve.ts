/** A monotone cubic through points: what the core's ``_along`` does (Fritsch and Butland 1984, as SciPy has it). */
export type CurvePoint = readonly [number, number];

/** Slopes at the points. */
function slopes(points: readonly CurvePoint[]): number[] {
  const h = points.slice(1).map(([x], n) => x - (points[n] as CurvePoint)[0]);
  const d = points.slice(1).map(([, y], n) => (y - (points[n] as CurvePoint)[1]) / (h[n] as number));
  if (points.length === 2) return [d[0] as number, d[0] as number];
  const end = (h0: number, h1: number, d0: number, d1: number) => {
    const slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
    if (Math.sign(slope) !== Math.sign(d0)) return 0;
    return Math.sign(d0) !== Math.sign(d1) && Math.abs(slope) > 3 * Math.abs(d0) ? 3 * d0 : slope;
  };
  const last = d.length - 1;
  const valueAt = (list: number[], n: number) => list[n] as number;
  return points.map((_, n) => {
    if (n === 0) return end(valueAt(h, 0), valueAt(h, 1), valueAt(d, 0), valueAt(d, 1));
    if (n > last) return end(valueAt(h, last), valueAt(h, last - 1), valueAt(d, last), valueAt(d, last - 1));
    if (valueAt(d, n - 1) * valueAt(d, n) <= 0) return 0;
    const w1 = 2 * valueAt(h, n) + valueAt(h, n - 1);
    const w2 = valueAt(h, n) + 2 * valueAt(h, n - 1);
    return (w1 + w2) / (w1 / valueAt(d, n - 1) + w2 / valueAt(d, n));
  });
}

/** The curve's value at each of the values, all of 255. */
export function along(points: readonly CurvePoint[], values: readonly number[]): number[] {
  const m = slopes(points);
  const first = points[0] as CurvePoint;
  const end = points.at(-1) as CurvePoint;
  return values.map((value) => {
    const x = Math.min(Math.max(value, first[0]), end[0]);
    let n = points.findIndex(([at]) => at > x) - 1;
    if (n < 0) n = points.length - 2;
    const [x0, y0] = points[n] as CurvePoint;
    const [x1, y1] = points[n + 1] as CurvePoint;
    const h = x1 - x0;
    const t = (x - x0) / h;
    const cubic =
      (1 + 2 * t) * (1 - t) ** 2 * y0 +
      t * (1 - t) ** 2 * h * (m[n] as number) +
      t ** 2 * (3 - 2 * t) * y1 +
      t ** 2 * (t - 1) * h * (m[n + 1] as number);
    return Math.min(255, Math.max(0, cubic));
  });
}

/** Points with one of them moved, kept between its neighbours and within the range. */
export function moved(points: readonly CurvePoint[], n: number, to: CurvePoint): CurvePoint[] {
  const low = n > 0 ? (points[n - 1] as CurvePoint)[0] + 1 : 0;
  const high = n < points.length - 1 ? (points[n + 1] as CurvePoint)[0] - 1 : 255;
  const held: CurvePoint = [
    Math.round(Math.min(high, Math.max(low, to[0]))),
    Math.round(Math.min(255, Math.max(0, to[1]))),
  ];
  return points.map((point, index) => (index === n ? held : point));
}

/** Points with one more, and where it stands; the same ones when there is no room for it. */
export function withPoint(points: readonly CurvePoint[], x: number, y: number): [CurvePoint[], number] {
  const near = points.findIndex(([at]) => Math.abs(at - x) < 4);
  if (near >= 0 || points.length >= 16) return [[...points], Math.max(0, near)];
  const n = points.findIndex(([at]) => at > x);
  const place = n < 0 ? points.length : n;
  return [[...points.slice(0, place), [Math.round(x), Math.round(y)], ...points.slice(place)], place];
}
