import { describe, expect, it } from "vitest";
import { apply, type Point, shownOf, windowOf } from "./placing";
import file from "./placing.cases.json";
import {
  cutShort,
  helped,
  isConvex,
  layOf,
  meshOf,
  type Net,
  netAgain,
  netOver,
  onGrid,
  onPatch,
  quadFromBox,
  type Surface,
} from "./surfaces";

const outline: Point[] = [
  [-40, -30],
  [40, -30],
  [40, 30],
  [-40, 30],
];
const quad: Point[] = [
  [20, 30],
  [100, 20],
  [100, 90],
  [20, 80],
];

describe("surfaces as the core has them", () => {
  it.each(file.quads.map((entry, at) => [at, entry] as const))(
    "corners, case %i",
    (_, { corners, points, onto }) => {
      const matrix = quadFromBox(outline, corners as unknown as Point[]);
      (points as unknown as Point[]).forEach((point, at) => {
        const [x, y] = apply(matrix, point);
        const [u, v] = onto[at] as unknown as Point;
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-4);
      });
    },
  );
  it.each(file.patches.map((entry, at) => [at, entry] as const))(
    "patch, case %i",
    (_, { net, points, onto }) => {
      (points as unknown as Point[]).forEach(([u, v], at) => {
        const [x, y] = onPatch(net as unknown as Net, u, v);
        const [a, b] = onto[at] as unknown as Point;
        expect(Math.hypot(x - a, y - b)).toBeLessThan(1e-4);
      });
    },
  );
});

describe("where surfaces lay an opening's plane", () => {
  it.each(file.surfaces.map((entry, at) => [entry.surface.kind, at, entry] as const))(
    "%s, case %i, as the core has it",
    (_kind, _at, { surface, outline, points, onto }) => {
      const lay = layOf(surface as unknown as Surface, outline as unknown as Point[]);
      (points as unknown as Point[]).forEach((point, at) => {
        const [x, y] = lay.to(point);
        const [u, v] = onto[at] as unknown as Point;
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-4);
        if (lay.matrix) expect(apply(lay.matrix, point)).toEqual([x, y]);
      });
    },
  );
  it("cuts sides short, and keeps their ends", () => {
    const cut = cutShort(outline, 30);
    expect(cut).toHaveLength(2 * 3 + 2 * 2);
    for (const corner of outline) expect(cut).toContainEqual(corner);
    expect(cutShort(outline, Infinity)).toEqual(outline);
  });
});

describe("pulling corners", () => {
  it("refuses what folds or caves in", () => {
    expect(isConvex(quad)).toBe(true);
    expect(isConvex(helped(quad, 0, [110, 95], "free"))).toBe(false);
    expect(isConvex(helped(quad, 0, [80, 70], "free"))).toBe(false);
  });
  it("keeps both sides equally high when asked", () => {
    const [a, b, c, d] = helped(quad, 0, [20, 10], "height") as [Point, Point, Point, Point];
    expect(d[1] - a[1]).toBeCloseTo(70);
    expect(c[1] - b[1]).toBeCloseTo(70);
    expect((c[1] + b[1]) / 2).toBeCloseTo(55);
  });
  it("keeps upright sides parallel when asked", () => {
    const [a, , , d] = helped(quad, 0, [26, 34], "parallel") as [Point, Point, Point, Point];
    expect([d[0] - a[0], d[1] - a[1]]).toEqual([0, 50]);
  });
  it("snaps to the guide grid", () => {
    expect(onGrid([12.4, -7.6], 5)).toEqual([10, -10]);
  });
});

describe("nets", () => {
  it("lie flat at first, and where they lay when they are made finer", () => {
    const flat = netOver(quad, 4, 3);
    expect(flat.length).toBe(4);
    expect(flat[0]?.[0]).toEqual([20, 30]);
    expect(flat[3]?.[2]).toEqual([100, 90]);
    const finer = netAgain(flat, 5, 5);
    const [x, y] = onPatch(finer, 0.3, 0.6);
    const [u, v] = onPatch(flat, 0.3, 0.6);
    expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-9);
    expect(meshOf(flat, 2, 4)).toHaveLength(6);
  });
});

describe("windows", () => {
  it("are the largest of their ratio, in the middle", () => {
    expect(windowOf(outline, 1)).toEqual([
      [-30, -30],
      [30, -30],
      [30, 30],
      [-30, 30],
    ]);
    expect(shownOf(outline, { ratio: null })).toBe(outline);
  });
});
