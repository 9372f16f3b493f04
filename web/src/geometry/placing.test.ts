import { describe, expect, it } from "vitest";
import {
  apply,
  clamped,
  cssMatrix,
  inverse,
  type Lying,
  multiply,
  openingFromPhoto,
  type Point,
  scale,
  shifted,
  zoomed,
} from "./placing";
import file from "./placing.cases.json";

interface Case {
  outline: Point[];
  photo: { width: number; height: number };
  asked: Lying;
  centre: Point;
  zoom: number;
  opening_from_photo: number[];
}
const cases = file.cases as unknown as Case[];

describe("the browser's placement is the core's", () => {
  it.each(cases.map((entry, at) => [at, entry] as const))(
    "case %i",
    (_, { outline, photo, asked, ...core }) => {
      const lies = clamped(outline, photo, asked);
      expect(lies.zoom).toBeCloseTo(core.zoom, 5);
      // A flattened ellipse here is a little coarser than the core's.
      lies.centre.forEach((value, axis) => {
        expect(value).toBeCloseTo(core.centre[axis] ?? Number.NaN, 3);
      });
      const ours = openingFromPhoto(outline, photo, lies);
      for (const corner of [
        [0, 0],
        [photo.width, 0],
        [photo.width, photo.height],
      ] as Point[]) {
        const [x, y] = apply(ours, corner);
        const [u, v] = apply(core.opening_from_photo, corner);
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1); // mm, a thousandth of the photo here
      }
    },
  );
});

const square: Point[] = [
  [-50, -50],
  [50, -50],
  [50, 50],
  [-50, 50],
];
const photo = { width: 4000, height: 2000 };
const plain: Lying = { fit: "cover", centre: [0.5, 0.5], zoom: 2, turn_deg: 0, mirror: false, ratio: null };

describe("worked by hand", () => {
  // A square of 100 mm and a photo of 4000 x 2000 px: it covers at 100 / 2000 = 0.05 mm a px, so half the opening is 1000 px,
  // and the centre lies between 1000 / 4000 and 3000 / 4000 across, and in the middle down.
  it("covers, and goes no farther than its edge", () => {
    const at = (centre: Point, more: Partial<Lying> = {}) =>
      clamped(square, photo, { ...plain, zoom: 1, centre: [centre[0], centre[1]], ...more }).centre;
    expect(at([0, 0])).toEqual([0.25, 0.5]);
    expect(at([0.9, 0.9])).toEqual([0.75, 0.5]);
    // Twice as large: 500 px on each side, so an eighth across and a quarter down.
    expect(at([0, 0], { zoom: 2 })).toEqual([0.125, 0.25]);
    // Turned by 45 degrees the square reaches 50 * sqrt(2) mm along both axes: at zoom 1 that is the photo's height.
    const [x = 0, y = 0] = at([0, 0], { turn_deg: 45 });
    expect(x).toBeCloseTo(0.25, 6);
    expect(y).toBeCloseTo(0.5, 6);
    const m = openingFromPhoto(square, photo, { ...plain, zoom: 1, turn_deg: 45 });
    expect(Math.hypot(m[0] ?? 0, m[3] ?? 0)).toBeCloseTo((100 * Math.SQRT2) / 2000, 9);
  });

  it("turns counter-clockwise as seen, and mirrors left and right", () => {
    // The photo's right edge's middle, 2000 px from the centre at 0.05 mm: 100 mm to the right; turned by 90 degrees, upwards.
    const right = (more: Partial<Lying>) =>
      apply(openingFromPhoto(square, photo, { ...plain, zoom: 1, ...more }), [4000, 1000]).map(
        (value) => Math.round(value * 1e6) / 1e6 + 0,
      );
    expect(right({})).toEqual([100, 0]);
    expect(right({ turn_deg: 90 })).toEqual([0, -100]);
    expect(right({ mirror: true })).toEqual([-100, 0]);
  });
});

describe("pulling", () => {
  it("moves the photo by as much as it is pulled, also when it is turned and mirrored", () => {
    for (const lying of [plain, { ...plain, turn_deg: 33, zoom: 4 }, { ...plain, mirror: true }]) {
      const before = apply(openingFromPhoto(square, photo, lying), [2000, 1000]);
      const after = apply(
        openingFromPhoto(square, photo, shifted(square, photo, lying, [3, -2])),
        [2000, 1000],
      );
      expect(after[0] - before[0]).toBeCloseTo(3, 6);
      expect(after[1] - before[1]).toBeCloseTo(-2, 6);
    }
  });
  it("never leaves a gap", () => {
    const lies = shifted(square, photo, plain, [9999, 9999]);
    expect(apply(openingFromPhoto(square, photo, lies), [0, 0])).toEqual([
      expect.closeTo(-50, 6),
      expect.closeTo(-50, 6),
    ]);
  });
  it("zooms about the pointer, which stays over the same photo point", () => {
    const about: Point = [12, -7];
    const lying = { ...plain, turn_deg: -14 };
    const point = apply(inverse(openingFromPhoto(square, photo, lying)), about);
    const lies = zoomed(square, photo, lying, 1.5, about);
    expect(lies.zoom).toBeCloseTo(3);
    const there = apply(openingFromPhoto(square, photo, lies), point);
    expect(Math.hypot(there[0] - about[0], there[1] - about[1])).toBeLessThan(1e-6);
  });
  it("covers again when a whole photo is zoomed", () => {
    expect(zoomed(square, photo, { ...plain, fit: "whole", zoom: 1 }, 1.1, [0, 0]).fit).toBe("cover");
    const all = clamped(square, photo, { ...plain, fit: "continued", zoom: 3, centre: [0.1, 0.1] });
    expect([all.zoom, all.centre]).toEqual([1, [0.5, 0.5]]);
    expect(scale(square, photo, all)).toBeCloseTo(scale(square, photo, { ...all, fit: "whole" }));
  });
});

describe("matrices", () => {
  it("invert and compose homographies", () => {
    const m = [1.2, 0.1, 5, -0.2, 0.9, 3, 0.001, 0.0005, 1];
    const [x, y] = apply(multiply(inverse(m), m), [31, 17]);
    expect(x).toBeCloseTo(31, 9);
    expect(y).toBeCloseTo(17, 9);
    expect(cssMatrix([1, 2, 3, 4, 5, 6, 7, 8, 9])).toBe("matrix3d(1,4,0,7,2,5,0,8,0,0,1,0,3,6,0,9)");
  });
});
