import { expect, it } from "vitest";
import type { Opening } from "../../api/client";
import { frameEdits } from "./frameEdits";

const opening = (id: string, border: object | null) => ({ id, border }) as unknown as Opening;

it("sets a part of a border where there is one, and the whole of it where there is none", () => {
  const [first, second, bare] = [
    opening("a", { width_mm: 3, colour: "#ffffff", side: "inside" }),
    opening("b", { width_mm: 1, colour: "#000000", side: "outside" }),
    opening("c", null),
  ];
  const all = [first, second, bare] as Opening[];
  expect(frameEdits(first as Opening, all, { "border.width_mm": 5 })).toEqual([
    { ids: ["a", "b"], fields: { "border.width_mm": 5 } },
    { ids: ["c"], fields: { border: { width_mm: 5, colour: "#ffffff", side: "inside" } } },
  ]);
  expect(frameEdits(first as Opening, all, { opacity: 0.5 })).toEqual([
    { ids: ["a", "b", "c"], fields: { opacity: 0.5 } },
  ]);
});
