import { describe, expect, it } from "vitest";
import { textBox } from "./newText";
import type { View } from "./view";
import { viewOf } from "./view.fixture";

const square = ([left, top, right, bottom]: [number, number, number, number]) =>
  [[left, top], [right, top], [right, bottom], [left, bottom]]; // biome-ignore format: short

/** A sheet of 200 x 100 mm with openings where it is told. */
function sheetWith(openings: [number, number, number, number][], more: object = {}): View {
  const view = viewOf("left");
  const layers = openings.map((_, n) => ({ kind: "opening", id: `o${n}` }));
  const frames = new Map(openings.map((box, n) => [`o${n}`, square(box)]));
  return { ...view, layout: { ...view.layout, layers, ...more }, frames } as unknown as View;
}

const edges = ({ centre: [x = 0, y = 0], width_mm, height_mm }: ReturnType<typeof textBox>) =>
  [x - width_mm / 2, y - height_mm / 2, x + width_mm / 2, y + height_mm / 2]; // biome-ignore format: short

describe("a text box that is added", () => {
  it("lies where there is room, within the safe area: beneath two pictures, or above them", () => {
    const [, top = 0, , bottom = 0] = edges(textBox(sheetWith([[5, 5, 95, 85], [105, 5, 195, 85]]))); // biome-ignore format: short
    expect(top).toBeGreaterThan(85);
    expect(bottom).toBeLessThanOrEqual(95);
    const above = edges(textBox(sheetWith([[5, 15, 95, 95], [105, 15, 195, 95]]))); // biome-ignore format: short
    expect(above[1]).toBeGreaterThanOrEqual(5);
    expect(above[3]).toBeLessThan(15);
  });
  it("keeps off the fold, which a sheet that is empty otherwise has in its middle", () => {
    const [left = 0, , right = 0] = edges(
      textBox(sheetWith([], { lines: [{ kind: "gutter", axis: "x", at_mm: 100 }] })),
    );
    expect(right <= 94 || left >= 106).toBe(true);
  });
  it("has the sheet's style for captions, and letters that are read on a dark ground", () => {
    const ground = { kind: "background", id: "ground", colour: "swatch night" };
    const dark = textBox(
      sheetWith([], { layers: [ground], swatches: { night: "#101830" }, styles: { Caption: {} } }),
    );
    expect([dark.style, dark.colour]).toEqual(["Caption", "#ffffff"]);
    expect(textBox(sheetWith([]))).toMatchObject({ colour: "#222222", sample: true });
  });
});
