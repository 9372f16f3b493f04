import { describe, expect, it } from "vitest";
import type { Held } from "../editing/fitting";
import { pageSize, pixels } from "../ui/format";
import { meant } from "../ui/keys";
import { fitByKey, KEYS, SCOPES, type Scope } from "./keys";

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

describe("the table of keys", () => {
  const pressed = (key: string, more = {}) => ({
    key,
    ctrlKey: false,
    metaKey: false,
    altKey: false,
    shiftKey: false,
    target: null,
    ...more,
  });
  it("gives every scope a place in the help", () => {
    expect(new Set(KEYS.map((entry) => entry.scope))).toEqual(new Set(SCOPES.map(([scope]) => scope)));
  });
  it("asks the innermost scope first", () => {
    const does = (key: string, scopes: Scope[], more = {}) => meant(pressed(key, more), KEYS, scopes)?.does;
    expect(does("Enter", ["bench"])).toBe("walk");
    expect(does("Enter", ["walk", "opening", "bench"])).toBe("goOn");
    expect(does("Enter", ["hand", "bench"])).toBe("putDown");
    expect(does("Escape", ["preview", "walk", "bench"])).toBe("leavePreview");
    expect(does("M", ["opening", "bench"])).toBe("fit");
    expect(does("m", ["bench"])).toBeUndefined();
    expect(does("Z", ["bench"], { ctrlKey: true, shiftKey: true })).toBe("undo");
    expect(does("z", ["bench"])).toBeUndefined();
    expect(does("k", ["bench"], { altKey: true })).toBeUndefined();
  });
});
