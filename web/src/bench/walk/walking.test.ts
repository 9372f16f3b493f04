import { beforeEach, describe, expect, it } from "vitest";
import type { Photo, Step } from "../../api/client";
import { stepsOf } from "../../editing/standing";
import { useBench } from "../../editing/store";
import { photo, viewOf } from "../../editing/view.fixture";
import { withStep } from "../opening/TonePart";
import { sorted } from "../pile/Pile";
import { goOn, openingsOf, startWalk, walkOn } from "./walking";

const now = () => useBench.getState();

describe("a walk", () => {
  beforeEach(() => now().set({ walk: undefined, selected: undefined, sheet: "" }));
  it("goes in reading order, whatever the numbers", () => {
    expect(openingsOf(viewOf("left"), "all")).toEqual(["b", "a"]);
  });
  it("goes through what was found only, when asked", () => {
    expect(openingsOf(viewOf("left"), "findings")).toEqual(["b"]);
  });
  it("goes on to the next sheet and back, ends past the last opening but not before the first", () => {
    startWalk(viewOf("left"), "all");
    expect(now().selected).toBe("b");
    goOn(viewOf("left"), -1);
    expect(now().selected).toBe("b");
    goOn(viewOf("left"), 1);
    goOn(viewOf("left"), 1);
    expect([now().sheet, now().selected, now().walk?.sheet]).toEqual(["right", undefined, ""]);
    walkOn(viewOf("left")); // still in view: the next one is on its way
    expect([now().selected, now().walk?.sheet]).toEqual([undefined, ""]);
    walkOn(viewOf("right"));
    expect([now().selected, now().walk?.sheet]).toEqual(["c", "right"]);
    goOn(viewOf("right"), -1);
    walkOn(viewOf("left"));
    expect(now().selected).toBe("a");
    goOn(viewOf("left"), 1);
    walkOn(viewOf("right"));
    goOn(viewOf("right"), 1);
    expect(now().walk).toBeUndefined();
  });
  it("passes sheets over on which nothing was found", () => {
    const calm = {
      ...viewOf("left"),
      marks: [
        { key: "k", ratio: 2, counts: [2, 2, 1, 0] as never },
        { key: "k", ratio: 2, counts: [1, 1, 0, 0] as never },
      ],
    };
    startWalk(calm, "findings");
    goOn(calm, 1);
    expect(now().walk).toBeUndefined();
  });
  it("does not pass over a sheet that is not looked through yet; when it has nothing, it goes on", () => {
    const busy = {
      ...viewOf("left"),
      marks: [viewOf("left").marks[0], { key: "k", ratio: 2, counts: null }],
    } as never;
    startWalk(busy, "findings");
    goOn(busy, 1);
    expect([now().sheet, now().walk?.openings]).toEqual(["right", []]);
    walkOn({ ...viewOf("right"), findings: [] });
    expect([now().walk, now().selected]).toEqual([undefined, undefined]);
  });
  it("goes on from a sheet on which only words were found", () => {
    const three = {
      ...viewOf("left"),
      sheets: [...viewOf("left").sheets, { ...viewOf("left").sheets[1], id: "last" }],
      marks: [...viewOf("left").marks, { key: "k", ratio: 2, counts: [1, 1, 0, 1] }],
    } as never as ReturnType<typeof viewOf>;
    startWalk(three, "findings");
    goOn(three, 1);
    walkOn({ ...three, ...viewOf("right"), sheets: three.sheets, marks: three.marks, findings: [] });
    expect([now().sheet, now().selected]).toEqual(["last", undefined]);
  });
  it("begins where asked, or at its first opening when that is not one of it", () => {
    startWalk(viewOf("left"), "all", "a");
    expect(now().selected).toBe("a");
    startWalk(viewOf("left"), "findings", "a");
    expect(now().selected).toBe("b");
  });
  it("does not begin without openings", () => {
    startWalk({ ...viewOf("left"), findings: [] }, "findings");
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
  it("of one opening begin as its photo's, or as the whole job's", () => {
    const view = viewOf("left");
    const kite = view.photo.get("p1") as Photo;
    expect(stepsOf(view, kite, "a")).toEqual([]);
    const enhanced = { ...view, job: { ...view.job, enhance: true } };
    expect(stepsOf(enhanced, kite, "a")).toEqual([{ kind: "enhance", on: true }]);
    expect(stepsOf(enhanced, { ...kite, already_worked: true }, "a")).toEqual([]);
    const mended = { ...enhanced, own: { ...view.own, photo_tones: { p1: { steps: [exposure] } } } };
    expect(stepsOf(mended as never, kite, "a")).toEqual([exposure]);
    const own = { ...mended, filling: { ...view.filling, tones: { a: { steps: [] } } } };
    expect(stepsOf(own as never, kite, "a")).toEqual([]);
    expect(stepsOf(own as never, kite)).toEqual([exposure]);
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
    ["p3", ["1", "4"]],
    ["p4", ["2"]],
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
