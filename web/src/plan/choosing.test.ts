import { expect, it } from "vitest";
import { chosenBy, numbersOf } from "./choosing";

const IDS = ["cover", "a", "b", "c"];

it("selects one, several, and runs from the last one chosen, either way", () => {
  const one = chosenBy({ sheets: [] }, IDS, "b", "only");
  expect(one).toEqual({ sheets: ["b"], last: "b" });
  const run = chosenBy(one, IDS, "cover", "to");
  expect(run).toEqual({ sheets: ["cover", "a", "b"], last: "b" });
  expect(chosenBy(run, IDS, "c", "to").sheets).toEqual(["b", "c"]);
  expect(chosenBy(run, IDS, "a", "toggle")).toEqual({ sheets: ["cover", "b"], last: "a" });
  expect(chosenBy({ sheets: [], last: "gone" }, IDS, "c", "to").sheets).toEqual(["c"]);
});

it("counts two pages of a spread and none of a cover", () => {
  const roles = ["cover", "page", "spread", "page"] as const;
  expect(numbersOf(roles.map((role) => ({ role })))).toEqual(["", "page 1", "pages 2 and 3", "page 4"]);
});
