import { describe, expect, it } from "vitest";
import type { KeepArea } from "../../api/client";
import { apply, boundsOf, type Lying, type Point } from "../../geometry/placing";
import { areaBetween, areaPulled, byHand, HIGH, levelled, ratioOf, screenFromPhoto, WIDE } from "./photoroom";

const photo = { width: 6000, height: 4000 };
const lying: Lying = { fit: "cover", centre: [0.5, 0.5], zoom: 1, turn_deg: 0, mirror: false, ratio: null };
const corners: Point[] = [
  [0, 0],
  [6000, 0],
  [6000, 4000],
  [0, 4000],
];

describe("the photo in its room", () => {
  it.each([0, 12, -35, 90, 180])(
    "is wholly in view and as large as can be, turned by %d degrees",
    (turn_deg) => {
      for (const mirror of [false, true]) {
        const onto = screenFromPhoto(photo, { ...lying, turn_deg, mirror });
        const box = boundsOf(corners.map((corner) => apply(onto, corner)));
        expect(box.left).toBeGreaterThan(-1e-6);
        expect(box.top).toBeGreaterThan(-1e-6);
        expect(box.right).toBeLessThan(WIDE + 1e-6);
        expect(box.bottom).toBeLessThan(HIGH + 1e-6);
        const spare = Math.min(WIDE - (box.right - box.left), HIGH - (box.bottom - box.top));
        expect(spare).toBeCloseTo(0, 6);
      }
    },
  );
  it("is turned counter-clockwise as seen, and mirrored before it is turned", () => {
    const [x, y] = apply(screenFromPhoto(photo, { ...lying, turn_deg: 90 }), [6000, 2000]);
    expect(x).toBeCloseTo(WIDE / 2);
    expect(y).toBeLessThan(HIGH / 2);
    const [u] = apply(screenFromPhoto(photo, { ...lying, mirror: true }), [6000, 2000]);
    expect(u).toBeLessThan(WIDE / 2);
  });
});

describe("straightening", () => {
  it("makes a slanted horizon level, from whichever end it is drawn", () => {
    expect(levelled(0, [100, 100], [300, 110])).toBeCloseTo(2.86, 2);
    expect(levelled(0, [300, 110], [100, 100])).toBeCloseTo(2.86, 2);
    expect(levelled(5, [100, 100], [300, 100])).toBe(5);
  });
  it("makes an edge upright when that is nearer", () => {
    expect(levelled(0, [100, 100], [110, 300])).toBeCloseTo(-2.86, 2);
  });
  it("levels what is drawn: the line, turned by as much more, lies level", () => {
    const turn = levelled(10, [0, 0], [200, -60]) ?? 0;
    const by = ((turn - 10) * Math.PI) / 180;
    // y runs down: a counter-clockwise turn takes (x, y) to (cx + sy, cy - sx).
    expect(Math.cos(by) * -60 - Math.sin(by) * 200).toBeCloseTo(0, 1);
  });
  it("is not meant by a click", () => {
    expect(levelled(3, [50, 50], [54, 55])).toBeUndefined();
  });
});

describe("areas", () => {
  const area: KeepArea = { kind: "face", left: 0.4, top: 0.3, width: 0.2, height: 0.2 };
  it("run from corner to corner, whichever comes first, on the photo only", () => {
    const drawn = { kind: "hand", left: 0.25, top: 0.5, width: 0.5, height: 0.5 };
    expect(areaBetween([1500, 2000], [4500, 5000], photo)).toEqual(drawn);
    expect(areaBetween([4500, 5000], [1500, 2000], photo)).toEqual(drawn);
    expect(areaBetween([10, 10], [40, 3000], photo)).toBeUndefined();
  });
  it("stay on the photo when moved or made larger", () => {
    const is = (pulled: KeepArea, ...sides: number[]) =>
      [pulled.left, pulled.top, pulled.width, pulled.height].forEach((side, n) => {
        expect(side).toBeCloseTo(sides[n] as number, 9);
      });
    is(areaPulled(area, [600, -400], photo, false), 0.5, 0.2, 0.2, 0.2);
    is(areaPulled(area, [9000, 9000], photo, false), 0.8, 0.8, 0.2, 0.2);
    is(areaPulled(area, [600, 400], photo, true), 0.4, 0.3, 0.3, 0.3);
    is(areaPulled(area, [-9000, 9000], photo, true), 0.4, 0.3, 0.01, 0.7);
  });
  it("are by hand once changed", () => {
    expect(byHand([area])).toEqual([{ ...area, kind: "hand" }]);
    expect(area.kind).toBe("face");
  });
});

describe("ratios", () => {
  it("stand the way the opening does", () => {
    expect(ratioOf("2:3", { width_mm: 50, height_mm: 80 })).toBeCloseTo(2 / 3);
    expect(ratioOf("2:3", { width_mm: 80, height_mm: 50 })).toBeCloseTo(3 / 2);
    expect(ratioOf("16:9", { width_mm: 50, height_mm: 80 })).toBeCloseTo(9 / 16);
    expect(ratioOf("1:1", { width_mm: 50, height_mm: 80 })).toBe(1);
    expect(ratioOf("Opening", { width_mm: 50, height_mm: 80 })).toBeNull();
  });
});
