import { expect, it } from "vitest";
import type { Edit, Layout, Row } from "../api/client";
import { boundsOf, type Point } from "../geometry/placing";
import file from "./relaid.cases.json";
import { foreseen, type View } from "./view";
import { viewOf } from "./view.fixture";

type Lies = Pick<typeof file, "openings" | "layers">;
const sheet = (lies: Lies, layout: Layout): View => ({
  ...viewOf("left"),
  sheet: { ...viewOf("left").sheet, id: "s" },
  layout,
  rows: lies.openings as unknown as Row[],
  frames: new Map(lies.layers.map(({ layer, frame }) => [layer, frame as unknown as Point[]])),
});
const sides = (points: readonly (readonly number[])[]) => {
  const { left, top, right, bottom } = boundsOf(points as unknown as Point[]);
  return [left, top, right, bottom];
};
const near = (one: readonly number[], other: readonly number[] = [], off = 0.02) => {
  expect(one).toHaveLength(other.length);
  one.forEach((value, n) => {
    expect(Math.abs(value - (other[n] ?? Number.NaN)), `${one} is not ${other}`).toBeLessThan(off);
  });
};

const plain = (matrix: readonly number[]) => matrix.map((value) => value / (matrix[8] ?? 1));

const stack = (layers: Layout["layers"], depth = 0): [string, number][] =>
  layers.flatMap((layer): [string, number][] => [
    [layer.id, depth],
    ...(layer.kind === "group" ? stack(layer.layers ?? [], depth + 1) : []),
  ]);

it.each(file.cases)(
  "what is drawn, copied, taken away or moved lies at once where the server lays it: %#",
  (after) => {
    const before = sheet(file, file.layout as unknown as Layout);
    const view = (after.edits as unknown as Edit[]).reduce(foreseen, before);
    expect(stack(view.layout.layers)).toEqual(after.stack);
    expect([...view.frames.keys()].sort()).toEqual(Object.keys(after.frames).sort());
    for (const [layer, frame] of Object.entries(after.frames))
      near((view.frames.get(layer) ?? []).flat(), frame);
    for (const row of after.rows) {
      const now = view.rows.find(({ opening }) => opening === row.opening) as Row;
      expect(now.number).toBe(row.number);
      near(sides(now.shape), row.shape, 0.1); // as near as a curve's points follow it
      near(sides(now.outline), row.outline, 0.1);
      near(plain(now.page_from_opening), plain(row.page_from_opening));
      near([now.width_mm, now.height_mm], row.size, 0.05);
    }
  },
);
