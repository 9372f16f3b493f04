import { describe, expect, it } from "vitest";
import type { TemplateCard } from "../api/client";
import { isMeant, typedSizes } from "./finding";

const template = (width_mm: number, height_mm: number, more: Partial<TemplateCard> = {}) =>
  ({
    name: "Tideline",
    product: "collage",
    occasion: "holiday",
    note: "",
    tags: [],
    sheets: [{ id: "s", name: "Sheet", width_mm, height_mm, bleed_mm: 3, folded_mm: null, openings: 1 }],
    ...more,
  }) as unknown as TemplateCard;

describe("a template is found by", () => {
  it("its size, however that is written", () => {
    const portrait = template(127, 177.8);
    for (const words of [
      "5x7",
      "5 x 7",
      "7×5",
      "5 by 7 in",
      '7x5"',
      "12.7 x 17.8 cm",
      "12,7x17,8",
      "127x178 mm",
    ])
      expect(isMeant(portrait, words), words).toBe(true);
    for (const words of ["5x8", "5x7 cm", "127 x 200 mm"])
      expect(isMeant(portrait, words), words).toBe(false);
  });
  it("the page of a spread, and the folded size", () => {
    expect(isMeant(template(609.6, 304.8, { product: "album" }), "12x12")).toBe(true);
    expect(isMeant(template(609.6, 304.8), "12x12")).toBe(false);
    const card = template(254, 177.8);
    if (card.sheets[0]) card.sheets[0].folded_mm = [127, 177.8];
    expect(isMeant(card, "5x7")).toBe(true);
  });
  it("words beside the size", () => {
    expect(isMeant(template(127, 177.8), "holiday 5x7")).toBe(true);
    expect(isMeant(template(127, 177.8), "wedding 5x7")).toBe(false);
    expect(isMeant(template(127, 177.8), "tide")).toBe(true);
  });
  it("nothing that was no size", () => {
    expect(typedSizes("album 12")).toBeUndefined();
  });
});
