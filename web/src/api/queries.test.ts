import { describe, expect, it } from "vitest";
import { altering, echoesOf, openingOf, pageOf } from "../bench/layers";
import { jobState } from "../bench/state.fixture";
import type { Echo, Opening } from "./client";
import { isPending, pending } from "./pending";
import { foreseen } from "./queries";

const layer = <L>(id: string, state = jobState()) =>
  state.job.pages.flatMap((page) => page.layers).find((entry) => entry.id === id) as L;

describe("what is shown before the server answers", () => {
  it("has an altered opening in it, and nothing else changed", () => {
    const state = jobState();
    const next = foreseen(state, { op: "alter", layer: { ...layer<Opening>("a"), opacity: 0.5 } });
    expect(layer<Opening>("a", next).opacity).toBe(0.5);
    expect(layer<Opening>("b", next)).toEqual(layer("b", state));
    expect(layer<Opening>("a", state).opacity).toBe(1);
    expect(next.revision).toBe(7);
  });
  it("has a recipe in it, or none", () => {
    const recipe = { steps: [{ kind: "black_and_white", on: true }] } as never;
    const mended = foreseen(jobState(), { op: "mend", photo: "p1", recipe });
    expect(mended.job.edition.photo_tones).toEqual({ p1: recipe });
    expect(Object.keys(mended.job.edition.tones)).toEqual(["c"]);
    expect(foreseen(jobState(), { op: "mend", opening: "c", recipe: null }).job.edition.tones).toEqual({});
  });
  it("is what was known when the edit says less than the whole", () => {
    const state = jobState();
    expect(foreseen(state, { op: "clear", openings: ["a"] })).toBe(state);
  });
});

describe("two changes of one layer in quick succession", () => {
  const opening = layer<Opening>("c");
  it("do not take each other back: the second is made from the first", () => {
    const state = jobState();
    const first = altering(opening, { opacity: 0.4 })(state);
    const after = foreseen(state, first as never);
    const second = altering(opening, (now) => ({ border: { ...now.border, width_mm: 9 } as never }))(after);
    const { opacity, border } = layer<Opening>("c", foreseen(after, second as never));
    expect(opacity).toBe(0.4);
    expect(border).toEqual({ width_mm: 9, colour: "#ffffff", side: "inside" });
  });
  it("are an edit of the right kind, and none when the layer is gone", () => {
    expect(altering(layer<Echo>("c-echo-1"), { darken: 0.3 })(jobState())).toMatchObject({
      op: "echo",
      layer: { id: "c-echo-1", of: "c", darken: 0.3 },
    });
    expect(altering({ ...opening, id: "gone" }, { opacity: 0 })(jobState())).toBeUndefined();
  });
});

describe("finding layers", () => {
  it("tells openings from other layers", () => {
    expect(openingOf(jobState(), "c")?.id).toBe("c");
    expect(openingOf(jobState(), "c-echo-1")).toBeUndefined();
    expect(openingOf(jobState(), undefined)).toBeUndefined();
    expect(pageOf(jobState(), "c")?.id).toBe("right");
    expect(echoesOf(jobState(), "c").map((echo) => echo.id)).toEqual(["c-echo-1"]);
    expect(echoesOf(jobState(), "a")).toEqual([]);
  });
});

describe("what is not stored yet", () => {
  it("is counted until each has said so, once", () => {
    expect(isPending()).toBe(false);
    const first = pending();
    const second = pending();
    first();
    first();
    expect(isPending()).toBe(true);
    second();
    expect(isPending()).toBe(false);
  });
});
