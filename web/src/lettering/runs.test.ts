import { expect, it } from "vitest";
import { applied, common, letters, type Run, shifted } from "./runs";

const BOLD = { start: 5, end: 9, weight: 700 } as Run;

it("keeps runs on their words while these are typed", () => {
  const words = "over the dunes";
  expect(shifted([BOLD], words, "far over the dunes")).toEqual([{ ...BOLD, start: 9, end: 13 }]);
  expect(shifted([BOLD], words, "over theXX dunes")).toEqual([{ ...BOLD, end: 11 }]);
  expect(shifted([BOLD], words, "over dunes")).toEqual([]);
  expect(shifted([BOLD], words, "over the dunes and")).toEqual([BOLD]);
  expect(shifted([BOLD], words, "")).toEqual([]);
});

it("lays one look over another, letter by letter, and takes it away", () => {
  const both = applied([BOLD], 14, 7, 12, { slant: true });
  expect(both).toEqual([
    { start: 5, end: 7, weight: 700 },
    { start: 7, end: 9, weight: 700, slant: true },
    { start: 9, end: 12, slant: true },
  ]);
  expect(applied(both, 14, 0, 14, { slant: undefined })).toEqual([BOLD]);
  expect(applied(both, 14, 0, 14, "plain")).toEqual([]);
  expect(common(both, 14, 7, 9)).toEqual({ weight: 700, slant: true });
  expect(common(both, 14, 5, 12)).toEqual({});
  expect(common([], 0, 0, 0)).toEqual({});
});

it("keeps a slant that is said to be none apart from one that is not said", () => {
  expect(applied([], 4, 0, 2, { slant: false })).toEqual([{ start: 0, end: 2, slant: false }]);
});

it("counts letters as the server does", () => {
  expect(letters("a🪁b", 3)).toBe(2);
  expect(letters("a🪁b")).toBe(3);
});
