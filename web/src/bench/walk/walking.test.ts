import { beforeEach, describe, expect, it } from "vitest";
import type { Photo, Step } from "../../api/client";
import { useBench } from "../../editing/store";
import { jobState, photo } from "../../editing/view.fixture";
import { withStep } from "../opening/TonePart";
import { sorted } from "../pile/Pile";
import { goOn, openingsOf, startWalk } from "./walking";

const now = () => useBench.getState();

describe("a walk", () => {
  beforeEach(() => now().set({ walk: undefined, selected: undefined, page: 0 }));
  it("goes in reading order, whatever the numbers", () => {
    expect(openingsOf(jobState(), "all")).toEqual(["b", "a", "c"]);
  });
  it("goes through what was found only, when asked", () => {
    expect(openingsOf(jobState(), "findings")).toEqual(["b", "c"]);
  });
  it("turns the page, and ends past the last opening but not before the first", () => {
    const state = jobState();
    startWalk(state, "all");
    expect([now().selected, now().page]).toEqual(["b", 0]);
    goOn(state, -1);
    expect(now().selected).toBe("b");
    goOn(state, 1);
    goOn(state, 1);
    expect([now().selected, now().page]).toEqual(["c", 1]);
    goOn(state, 1);
    expect(now().walk).toBeUndefined();
  });
  it("begins where asked, or at its first opening when that is not one of it", () => {
    startWalk(jobState(), "findings", "c");
    expect(now().selected).toBe("c");
    startWalk(jobState(), "findings", "a");
    expect(now().selected).toBe("b");
  });
  it("does not begin without openings", () => {
    startWalk({ ...jobState(), findings: [] }, "findings");
    expect(now().walk).toBeUndefined();
  });
});

describe("steps of a recipe", () => {
  const exposure = { kind: "exposure", on: true, stops: 1 } as Step;
  it("stand in the order in which they are done", () => {
    const steps = withStep(withStep([exposure], "black_and_white", {}), "levels", { black: 12 });
    expect(steps.map((step) => step.kind)).toEqual(["levels", "exposure", "black_and_white"]);
    expect(steps[0]).toEqual({ kind: "levels", on: true, black: 12 });
  });
  it("keep their numbers when switched off", () => {
    expect(withStep([exposure], "exposure", { on: false })).toEqual([{ ...exposure, on: false }]);
  });
});

describe("the pile", () => {
  const photos = [
    photo("p1", 6000, 4000, "kite-10.jpg"),
    photo("p2", 4000, 6000, "kite-9.jpg"),
    photo("p3", 3000, 3000, "pier.jpg"),
    photo("p4", 900, 600, "dune.jpg"),
  ] as unknown as Photo[];
  const ids = (found: Photo[]) => found.map(({ id }) => id).join(" ");
  const used = new Map([
    ["p3", [1, 4]],
    ["p4", [2]],
  ]);
  it("stays in order of capture unless asked", () => {
    expect(ids(sorted(photos, "taken", used))).toBe("p1 p2 p3 p4");
  });
  it("sorts names as people count", () => {
    expect(ids(sorted(photos, "name", used))).toBe("p4 p2 p1 p3");
  });
  it("puts wide ones first, then square, then high, each in order of capture", () => {
    expect(ids(sorted(photos, "orientation", used))).toBe("p1 p4 p3 p2");
  });
  it("puts the most used first, and leaves what it was given alone", () => {
    expect(ids(sorted(photos, "used", used))).toBe("p3 p4 p1 p2");
    expect(ids(photos)).toBe("p1 p2 p3 p4");
  });
});
