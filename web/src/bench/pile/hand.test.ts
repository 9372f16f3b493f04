import { describe, expect, it } from "vitest";
import type { Hand } from "../../editing/store";
import { picked, rest, skipped } from "./hand";

const pile = ["a", "b", "c", "d", "e"];
const alone = { range: false, add: false };
const range = { range: true, add: false };
const add = { range: false, add: true };
const photos = (hand: Hand | undefined) => (hand?.kind === "photos" ? hand.photos.join("") : undefined);

describe("picking photos up", () => {
  it("takes one, and lets it go when it is clicked again", () => {
    const one = picked(pile, undefined, "b", alone);
    expect(photos(one)).toBe("b");
    expect(photos(picked(pile, one, "d", alone))).toBe("d");
    expect(picked(pile, one, "b", alone)).toBeUndefined();
  });
  it("takes a run from the last one picked, forwards and backwards, none twice", () => {
    const one = picked(pile, undefined, "b", alone);
    expect(photos(picked(pile, one, "d", range))).toBe("bcd");
    expect(photos(picked(pile, one, "a", range))).toBe("ba");
    expect(photos(picked(pile, picked(pile, one, "d", range), "a", range))).toBe("bcda");
    expect(photos(picked(pile, undefined, "c", range))).toBe("c");
  });
  it("adds single ones and takes them back", () => {
    const two = picked(pile, picked(pile, undefined, "e", add), "a", add);
    expect(photos(two)).toBe("ea");
    expect(photos(picked(pile, two, "e", add))).toBe("a");
    expect(picked(pile, { kind: "photos", photos: ["a"] }, "a", add)).toBeUndefined();
  });
  it("starts anew when it held an opening's photo, or a photo that the pile no longer shows", () => {
    expect(photos(picked(pile, { kind: "opening", opening: "o" }, "c", range))).toBe("c");
    expect(photos(picked(pile, { kind: "photos", photos: ["gone"] }, "c", range))).toBe("c");
  });
});

describe("putting photos down", () => {
  it("goes on with the next, until the hand is empty", () => {
    const three: Hand = { kind: "photos", photos: ["a", "b", "c"] };
    expect(photos(rest(three))).toBe("bc");
    expect(rest({ kind: "photos", photos: ["c"] })).toBeUndefined();
    expect(rest({ kind: "opening", opening: "o" })).toBeUndefined();
  });
  it("skips the next, which comes last", () => {
    expect(photos(skipped({ kind: "photos", photos: ["a", "b", "c"] }))).toBe("bca");
    expect(skipped({ kind: "opening", opening: "o" })).toEqual({ kind: "opening", opening: "o" });
  });
});
