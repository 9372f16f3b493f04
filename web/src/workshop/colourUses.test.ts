import { expect, it } from "vitest";
import { colourUses } from "./colourUses";
import type { Layer } from "./layers";

it("gathers a group's colours by their fields, the one used most first", () => {
  const group = {
    kind: "group",
    id: "g",
    layers: [
      { kind: "fill", id: "band", colour: "#102030" },
      { kind: "opening", id: "one", border: { colour: "#ffffff", width_mm: 2 }, mat: null },
      { kind: "text", id: "words", colour: "#102030" },
      { kind: "fill", id: "sky", colour: "#0000ff", gradient: { stops: [] } },
    ],
  } as unknown as Layer;
  expect(colourUses([group, { kind: "ornament", id: "star", colour: "swatch Sea" } as Layer])).toEqual([
    { colour: "#102030", where: { colour: ["band", "words"] } },
    { colour: "#ffffff", where: { "border.colour": ["one"] } },
    { colour: "swatch Sea", where: { colour: ["star"] } },
  ]);
  expect(colourUses([])).toEqual([]);
});
