import { describe, expect, it } from "vitest";
import { drawnToOthers } from "../geometry/lines";
import { apply, type Lying, openingFromPhoto, type Point, shifted } from "../geometry/placing";
import { layBy } from "../geometry/surfaces";
import { type Held, held, NONE, ownLying } from "./fitting";
import { drawnToLines, drawnTurn } from "./snapping";
import { viewOf } from "./view.fixture";

const outline: Point[] = [
  [-40, -30],
  [40, -30],
  [40, 30],
  [-40, 30],
];
const lying: Lying = { fit: "cover", centre: [0.5, 0.5], zoom: 2, turn_deg: 0, mirror: false, ratio: null };
const given = (marked?: object[]): Held => ({
  ...(held(viewOf("left"), "a", NONE) as Held),
  outline,
  photo: { width: 6000, height: 4500 } as unknown as Held["photo"],
  keeps: (marked ?? []).map((area) => ({ seen: area, stored: area })) as unknown as Held["keeps"],
});
const place = (now: Held, at: Lying, fx: number, fy: number) =>
  apply(openingFromPhoto(outline, now.photo, at), [fx * now.photo.width, fy * now.photo.height]);

describe("what is pulled", () => {
  it("is drawn to the opening's middle when its own is near", () => {
    const now = given();
    const pulled = shifted(outline, now.photo, lying, [1.2, -0.7]);
    const drawn = drawnToLines(now, pulled, 2);
    expect(drawn.lines).toEqual({ x: 0, y: 0 });
    const [x, y] = place(now, drawn.lying, 0.5, 0.5);
    expect(Math.hypot(x, y)).toBeLessThan(1e-9);
  });
  it("is left alone when nothing is near", () => {
    const now = given();
    const pulled = shifted(outline, now.photo, lying, [7, 5]);
    const drawn = drawnToLines(now, pulled, 2);
    expect(drawn.lines).toBeUndefined();
    expect(drawn.lying.centre[0]).toBeCloseTo(pulled.centre[0], 9);
  });
  it("is drawn each way by itself", () => {
    const now = given();
    const drawn = drawnToLines(now, shifted(outline, now.photo, lying, [7, 1]), 2);
    expect(drawn.lines).toEqual({ y: 0 });
  });
  it("brings what must stay visible to a third; the photo's middle only to the middle", () => {
    // The marked area's middle lies 30 % across and 40 % down.
    const now = given([{ kind: "hand", left: 0.2, top: 0.3, width: 0.2, height: 0.2 }]);
    const [x] = place(now, lying, 0.3, 0.4);
    const third = -40 + 80 / 3;
    const drawn = drawnToLines(now, shifted(outline, now.photo, lying, [third - x + 0.9, 6]), 2);
    expect(drawn.lines?.x).toBeCloseTo(third, 9);
    expect(place(now, drawn.lying, 0.3, 0.4)[0]).toBeCloseTo(third, 9);
    const without = given();
    const alone = shifted(outline, without.photo, lying, [third + 0.9, 6]);
    expect(drawnToLines(without, alone, 2).lines).toBeUndefined();
  });
});

describe("an opening that is moved", () => {
  const box = (left: number, top: number, right: number, bottom: number) => ({ left, top, right, bottom });
  const neighbour = box(100, 20, 160, 80);
  it("is drawn edge to edge and middle to middle, each way by itself", () => {
    expect(drawnToOthers(box(101, 200, 141, 240), [neighbour], 2)).toEqual({
      by: [-1, 0],
      lines: { x: 100 },
    });
    expect(drawnToOthers(box(58.5, 49, 98.5, 53), [neighbour], 2)).toEqual({
      by: [1.5, -1],
      lines: { x: 100, y: 50 },
    });
  });
  it("goes to the nearest of several lines", () => {
    const found = drawnToOthers(box(0, 0, 99, 10), [neighbour, box(98.5, 300, 120, 320)], 2);
    expect(found.by[0]).toBeCloseTo(-0.5);
    expect(found.lines).toEqual({ x: 98.5 });
  });
  it("is left alone when nothing is near, and has no middle in common with an edge", () => {
    expect(drawnToOthers(box(80, 300, 120, 320), [neighbour], 2)).toEqual({ by: [0, 0], lines: {} });
  });
  it("may be a point", () => {
    expect(drawnToOthers(box(159, 79, 159, 79), [neighbour], 2)).toEqual({
      by: [1, 1],
      lines: { x: 160, y: 80 },
    });
  });
});

describe("a turn", () => {
  it("is drawn to the whole degree it nearly is, unless freed", () => {
    expect(drawnTurn(7.2, false)).toBe(7);
    expect(drawnTurn(7.2, true)).toBe(7.2);
    expect(drawnTurn(7.5, false)).toBe(7.5);
    expect(drawnTurn(-0.1, false)).toBe(0);
  });
  it("stays between -180 and 180", () => {
    expect(drawnTurn(190.004, true)).toBe(-170);
    expect(drawnTurn(-540, false)).toBe(-180);
  });
});

describe("what an opening holds", () => {
  it("is how its photo lies, the draft first, and where its surface lays it", () => {
    expect(held(viewOf("left"), "b", NONE)).toBeUndefined();
    const state = viewOf("right");
    const now = held(state, "c", NONE) as Held;
    expect(now.lying.zoom).toBe(2);
    expect(now.lay.to([1, 2])).toEqual(layBy(now.row.page_from_opening).to([1, 2]));
    const draft = { opening: "c", lying: { ...now.lying, zoom: 3 }, state: "open" as const };
    expect(held(state, "c", draft)?.lying.zoom).toBe(3);
    expect(held(viewOf("left"), "a", draft)?.lying.zoom).toBe(1);
    expect(ownLying(state, "c", now.lying)).toEqual(now.lying);
  });
  it("lies where it is pulled to, while it is pulled", () => {
    const state = viewOf("right");
    const { lying } = held(state, "c", NONE) as Held;
    const net = [
      [[0, 0], [100, 10]],
      [[0, 80], [100, 90]],
    ]; // biome-ignore format: two rows
    const surface = { kind: "grid", net } as never;
    const now = held(state, "c", { opening: "c", lying, surface, state: "open" });
    expect(now?.lay.matrix).toBeUndefined();
    expect(now?.lay.to([40, -30])).toEqual([100, 10]);
    expect(now?.lay.to([0, 0])).toEqual([50, 45]);
  });
});
