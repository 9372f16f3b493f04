import { describe, expect, it } from "vitest";
import { along, type CurvePoint, moved, withPoint } from "./curve";
import cases from "./curve.cases.json";

describe("a curve", () => {
  it("is what SciPy's monotone cubic is", () => {
    for (const { points, values, to } of cases)
      along(points as unknown as CurvePoint[], values).forEach((value, n) => {
        expect(value).toBeCloseTo(to[n] as number, 4);
      });
  });
  it("keeps its points in order and in range", () => {
    const points: CurvePoint[] = [
      [0, 0],
      [100, 120],
      [255, 255],
    ];
    expect(moved(points, 1, [300, -20])[1]).toEqual([254, 0]);
    expect(moved(points, 0, [140, 5])[0]).toEqual([99, 5]);
    expect(withPoint(points, 50, 80)).toEqual([
      [
        [0, 0],
        [50, 80],
        [100, 120],
        [255, 255],
      ],
      1,
    ]);
    expect(withPoint(points, 101, 10)[1]).toBe(1); // one is there already
    expect(withPoint(points, 101, 10)[0]).toHaveLength(3);
  });
});
