import { describe, expect, it } from "vitest";
import type { Point } from "../../../geometry/placing";
import {
  at,
  enough,
  levelOf,
  middleOf,
  movedArea,
  outlined,
  placed,
  shiftAt,
  stroked,
  TILE,
  tileBox,
  tilesSeen,
  toPhoto,
  toScreen,
  whence,
  wholly,
  zoomedAt,
} from "./seen";

const photo = { width: 6000, height: 4000 };
const room = { width: 900, height: 700 };

describe("the photo on the screen", () => {
  it("is all in view, in the middle, and comes back from there", () => {
    const seen = wholly(photo, room);
    expect(toScreen(seen, [3000, 2000])).toEqual([450, 350]);
    const [left] = toScreen(seen, [0, 0]);
    expect(left).toBeCloseTo(12);
    const [x, y] = toPhoto(seen, toScreen(seen, [123, 456]));
    expect(x).toBeCloseTo(123);
    expect(y).toBeCloseTo(456);
  });
  it("comes closer at the pointer, neither too far nor too near", () => {
    const seen = wholly(photo, room);
    const here: Point = [200, 300];
    const under = toPhoto(seen, here);
    const close = zoomedAt(seen, 3, here, photo, room);
    expect(close.k).toBeCloseTo(3 * seen.k);
    expect(toScreen(close, under)[0]).toBeCloseTo(200);
    expect(toScreen(close, under)[1]).toBeCloseTo(300);
    expect(zoomedAt(seen, 1e6, here, photo, room).k).toBe(16);
    expect(zoomedAt(seen, 1e-6, here, photo, room).k).toBeCloseTo(seen.k / 2);
  });
  it("is fetched at the level that is as fine as the screen", () => {
    expect([1, 0.9, 0.5, 0.49, 0.26, 0.25, 4].map((k) => levelOf(k, 1))).toEqual([0, 0, 1, 1, 1, 2, 0]);
    expect(levelOf(0.5, 2)).toBe(0);
    expect(levelOf(0.0001, 1)).toBe(7);
  });
  it("is fetched by the tiles in view and no others", () => {
    const seen = at(1, [1000, 1000], [450, 350]);
    const tiles = tilesSeen(seen, room, photo, 0);
    // 550 to 1450 across, 650 to 1350 down.
    expect(new Set(tiles.map(({ x }) => x))).toEqual(new Set([1, 2]));
    expect(new Set(tiles.map(({ y }) => y))).toEqual(new Set([1, 2]));
    expect(tilesSeen(at(1, [-5000, 0], [450, 350]), room, photo, 0)).toEqual([]);
    expect(tileBox({ level: 2, x: 2, y: 1 }, photo)).toEqual([4096, 2048, 6000 - 4096, 4000 - 2048]);
    expect(tileBox({ level: 0, x: 0, y: 0 }, photo)).toEqual([0, 0, TILE, TILE]);
  });
});

describe("what is drawn", () => {
  it("keeps no more points than it takes", () => {
    const line = Array.from({ length: 100 }, (_, n): Point => [n * 10, n * 5]);
    expect(enough(line, 1)).toEqual([0, 99]);
    const corner: Point[] = [
      [0, 0],
      [50, 1],
      [100, 0],
      [100, 50],
      [100, 100],
    ];
    expect(enough(corner, 2)).toEqual([0, 2, 4]);
    expect(enough([[1, 1]], 2)).toEqual([0]);
    const round: Point[] = [
      [0, 0],
      [50, 80],
      [0, 0],
    ];
    expect(enough(round, 2)).toEqual([0, 1, 2]);
  });
  it("is stored in fractions, and how hard it was pressed only where that matters", () => {
    const points: Point[] = [
      [600, 400],
      [900, 800],
    ];
    const hard = stroked(points, [1, 1], 0.01, 0.3, photo);
    expect(hard).toEqual({
      kind: "stroke",
      points: [
        [0.1, 0.1],
        [0.15, 0.2],
      ],
      radius: 0.01,
      pressed: [],
      soft: 0.3,
    });
    expect(stroked(points, [1, 0.5], 0.01, 0.3, photo)).toMatchObject({ pressed: [1, 0.5] });
  });
  it("encloses something, or is nothing", () => {
    expect(
      outlined(
        [
          [0, 0],
          [600, 0],
          [600, 400],
        ],
        0.1,
        photo,
      ),
    ).toMatchObject({ kind: "outlined", points: { length: 3 } });
    expect(
      outlined(
        [
          [0, 0],
          [600, 0],
          [1200, 0],
        ],
        0.1,
        photo,
      ),
    ).toBeUndefined();
    expect(
      outlined(
        [
          [0, 0],
          [1, 1],
        ],
        0.1,
        photo,
      ),
    ).toBeUndefined();
  });
});

describe("a source", () => {
  const plain = {
    at: [1000, 1000] as Point,
    from: [2000, 1500] as Point,
    turn_deg: 0,
    mirror: false,
    scale: 1,
  };
  it("lies as far from each place as from the first", () => {
    expect(whence(plain, [1100, 1000])).toEqual([2100, 1500]);
    expect(shiftAt(plain, [1100, 1000], photo)).toEqual([0.166667, 0.125]);
  });
  it("is seen turned counter-clockwise, mirrored, scaled", () => {
    // What is seen right of the middle comes from below it: a quarter turn counter-clockwise brings that there.
    const [x, y] = whence({ ...plain, turn_deg: 90 }, [1100, 1000]);
    expect(x).toBeCloseTo(2000);
    expect(y).toBeCloseTo(1600);
    expect(whence({ ...plain, mirror: true }, [1100, 1000])[0]).toBeCloseTo(1900);
    expect(whence({ ...plain, scale: 2 }, [1100, 1000])[0]).toBeCloseTo(2050);
  });
});

describe("an area", () => {
  it("moves as a whole", () => {
    const round = {
      kind: "round",
      centre: [0.5, 0.5],
      across: [0.1, 0.1],
      turn_deg: 0,
      soft: 0.5,
      outside: false,
    } as const;
    expect(
      movedArea({ ...round, centre: [0.5, 0.5], across: [0.1, 0.1] }, [600, -400], photo).centre,
    ).toEqual([0.6, 0.4]);
    const stroke = stroked(
      [
        [600, 400],
        [1200, 800],
      ],
      [1, 1],
      0.01,
      0.3,
      photo,
    );
    const moved = movedArea(stroke, [600, 400], photo);
    expect(placed(moved.kind === "stroke" ? (moved.points[0] ?? []) : [], photo)).toEqual([1200, 800]);
    const touch = {
      kind: "cover",
      id: "a",
      on: true,
      strength: 100,
      how: "heal",
      area: moved,
      shift: [0, 0],
    } as never;
    expect(middleOf(touch, photo)).toEqual([1500, 1000]);
  });
});
