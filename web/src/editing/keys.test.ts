import { describe, expect, it } from "vitest";
import { pageSize, pixels } from "../ui/format";
import type { Held } from "./fitting";
import { fitByKey } from "./keys";

const held = {
  outline: [
    [-50, -40],
    [50, -40],
    [50, 40],
    [-50, 40],
  ],
  photo: { width: 6000, height: 4000 },
  lying: { fit: "cover", centre: [0.5, 0.5], zoom: 2, turn_deg: 10, mirror: false, ratio: null },
} as unknown as Held;

describe("keys of fitting", () => {
  it.each([
    ["[", false, { turn_deg: 10.1 }],
    ["]", false, { turn_deg: 9.9 }],
    ["{", true, { turn_deg: 11 }],
    ["m", false, { mirror: true, turn_deg: -10 }],
    ["w", false, { fit: "whole" }],
    ["0", false, { zoom: 1, turn_deg: 0 }],
  ])("%s", (key, shift, expected) => {
    expect(fitByKey(held, key, shift)).toMatchObject(expected);
  });
  it("zoom by two per cent, and arrows shift by a millimetre or a tenth", () => {
    expect(fitByKey(held, "+", false)?.zoom).toBeCloseTo(2.04);
    const coarse = (fitByKey(held, "ArrowLeft", false)?.centre[0] ?? 0) - 0.5;
    const fine = (fitByKey(held, "ArrowLeft", true)?.centre[0] ?? 0) - 0.5;
    expect(coarse).toBeGreaterThan(0);
    expect(coarse / fine).toBeCloseTo(10, 6);
    expect(fitByKey(held, "q", false)).toBeUndefined();
  });
});

describe("numbers as people read them", () => {
  it("shows inches when a size is made of them", () => {
    expect(pageSize(609.6, 304.8)).toBe("24 × 12 in");
    expect(pageSize(171.45, 120.65)).toBe("6.75 × 4.75 in");
    expect(pageSize(360, 240)).toBe("360 × 240 mm");
    expect([pixels(615.6, 300), pixels(310.8, 300)]).toEqual([7271, 3671]);
  });
});
