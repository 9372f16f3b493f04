/** The workshop's figures: what a pull makes, what is drawn to what, which layers are meant. */
import { expect, it } from "vitest";
import { stretching, turning } from "../geometry/motions";
import { apply, type Point } from "../geometry/placing";
import { cutAlong, freshId, freshIn, type Layer, madeBy, outermost, simplified, stacked } from "./layers";
import { boxesOf, columnsOf, drawnOver } from "./lines";
import { heldOf, pointOf, pulledBox, sized, sizing, turnBetween } from "./pulling";

const opening = (id: string, x: number, y: number, turn = 0): Layer =>
  ({
    kind: "opening",
    id,
    outline: { kind: "rectangle", width_mm: 40, height_mm: 30 },
    surface: { kind: "flat", centre: [x, y], turn_deg: turn },
  }) as unknown as Layer;
const frame = (x: number, y: number): Point[] => [
  [x - 20, y - 15],
  [x + 20, y - 15],
  [x + 20, y + 15],
  [x - 20, y + 15],
];
const layers = [
  opening("a", 50, 50),
  { kind: "group", id: "g", layers: [opening("b", 120, 50), opening("c", 200, 90)] } as unknown as Layer,
];
const frames = new Map<string, readonly Point[]>([
  ["a", frame(50, 50)],
  ["b", frame(120, 50)],
  ["c", frame(200, 90)],
]);
const layout = { width_mm: 300, height_mm: 200, safe_mm: 5, layers } as never;

it("takes the stack from the top, and a group for what lies in it", () => {
  expect(stacked(layers).map(({ layer, depth }) => [layer.id, depth])).toEqual([
    ["g", 0],
    ["c", 1],
    ["b", 1],
    ["a", 0],
  ]);
  expect(outermost(layers, "b")).toBe("g");
  expect(outermost(layers, "a")).toBe("a");
  expect(freshId("b")).toMatch(/^b-[0-9a-f]{8}$/);
  expect(freshId("b")).not.toBe(freshId("b"));
  expect(freshIn([...layers, opening("d", 0, 0)], layers)).toEqual(["d"]);
});

it("sizes one layer in its own plane and several by the box about them", () => {
  const one = heldOf(layers, frames, ["a"]);
  if (!one) throw new Error("nothing held");
  const now = sized(one, [1, 1], [100, 80]);
  expect([now.width, now.height, now.middle, now.fixed]).toEqual([70, 45, [65, 57.5], [30, 35]]);
  expect(sizing(one, now)).toMatchObject({
    op: "set_fields",
    fields: { "outline.width_mm": 70, "outline.height_mm": 45, "surface.centre": [65, 57.5] },
  });
  expect(sized(one, [1, 1], [110, 60], 4 / 3)).toMatchObject({ width: 80, height: 60 });
  expect(sized(one, [-1, 0], [500, 0]).width).toBe(1); // never turned inside out
  const group = heldOf(layers, frames, ["g"]);
  if (!group) throw new Error("nothing held");
  expect([group.width, group.height]).toEqual([120, 70]);
  const wider = sized(group, [1, 0], [340, 0]);
  expect(sizing(group, wider)).toMatchObject({ op: "carry", layers: ["g"], about: [100, 70], scale: [2, 1] });
  const map = stretching(group, wider);
  expect(apply(map, [100, 35])).toEqual([100, 35]);
  expect(apply(map, [220, 105])).toEqual([340, 105]);
  expect(pointOf(group, [1, 1])).toEqual([220, 105]);
});

it("turns counter-clockwise as seen, with y down", () => {
  expect(turnBetween([0, 0], [10, 0], [0, -10])).toBeCloseTo(90);
  const [x, y] = apply(turning([5, 5], 90), [15, 5]);
  expect([x, y]).toEqual([expect.closeTo(5), expect.closeTo(-5)]);
});

it("pulls boxes either way, of a ratio when one is kept", () => {
  expect(pulledBox([10, 10], [0, 30])).toEqual({ left: 0, right: 10, top: 10, bottom: 30 });
  expect(pulledBox([0, 0], [30, 5], 2)).toEqual({ left: 0, right: 30, top: 0, bottom: 15 });
});

it("draws to edges, the safe line, the grid, and equal gaps", () => {
  const box = { left: 29, right: 69, top: 120, bottom: 150 };
  const others = [{ left: 30, right: 70, top: 35, bottom: 65 }];
  expect(drawnOver(box, others, [], 2)).toMatchObject({ by: [1, 0], lines: { x: 30 } });
  expect(drawnOver({ ...box, left: 6, right: 46 }, [], boxesOf(layout), 2).by[0]).toBe(-1);
  const row = [
    { left: 10, right: 30, top: 0, bottom: 20 },
    { left: 38, right: 58, top: 0, bottom: 20 },
  ];
  const third = drawnOver({ left: 67, right: 80, top: 2, bottom: 17 }, row, [], 2);
  expect(third.by[0]).toBeCloseTo(-1); // as far from the second as that from the first
  expect(third.gaps.map(({ from, to }) => to - from)).toEqual([8, 8]);
  const net = columnsOf({
    ...(layout as object),
    columns: { columns: 2, rows: 1, gutter_mm: 10, margin_mm: 20 },
  } as never);
  expect(net).toEqual([
    ["x", 20, 145],
    ["x", 155, 280],
    ["y", 20, 180],
  ]);
});

it("makes layers of what was pulled, and few points of a free line", () => {
  const box = { left: 10, right: 50, top: 20, bottom: 50 };
  expect(madeBy("rounded", box, "#123456")).toMatchObject({
    id: expect.stringMatching(/^opening-/),
    outline: { width_mm: 40, height_mm: 30, radius_mm: 3.75 },
    surface: { centre: [30, 35] },
  });
  expect(cutAlong([[0, 0], [40, 0], [20, 30]])).toMatchObject({
    outline: { kind: "path", d: "M-20 -15L20 -15L0 15Z" },
    surface: { centre: [20, 15] },
  }); // biome-ignore format: one shape
  const line: Point[] = Array.from({ length: 50 }, (_, n) => [n, n < 25 ? 0 : n - 24]);
  expect(simplified(line, 0.5)).toHaveLength(3);
});
