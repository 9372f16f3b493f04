import { describe, expect, it } from "vitest";
import type { View } from "../../editing/view";
import { called, namedColours, seenColour } from "./colours";

const view = (swatches: Record<string, string>, studio?: { main: string; second: string }) =>
  ({ layout: { swatches }, job: { studio } }) as unknown as View;

describe("colours by name", () => {
  it("are the sheet's swatches and the studio card's two", () => {
    expect(namedColours(view({ Dune: "#c9b27c" }, { main: "#112233", second: "#445566" }))).toEqual([
      ["swatch Dune", "#c9b27c"],
      ["studio main", "#112233"],
      ["studio second", "#445566"],
    ]);
    expect(namedColours(view({})).map(([name]) => name)).toEqual(["studio main", "studio second"]);
  });
  it("are seen as what they are", () => {
    const here = view({ Dune: "#c9b27c" });
    expect(seenColour(here, "swatch Dune")).toBe("#c9b27c");
    expect(seenColour(here, "#abcdef")).toBe("#abcdef");
    expect(seenColour(here, "swatch Gone")).toBe("#808080");
  });
  it("are called by their names", () => {
    expect(called("swatch Sea blue")).toBe("Sea blue");
    expect(called("studio main")).toBe("the studio's colour");
  });
});
