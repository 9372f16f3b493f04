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
