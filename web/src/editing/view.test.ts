import { describe, expect, it } from "vitest";
import type { JobHead } from "../api/client";
import { keep, keepFacts } from "../api/parts";
import { addressed, spot } from "./changes";
import { assembled, echoesOf, foreseen, leaves, openingOf, type View } from "./view";
import { photo, viewOf } from "./view.fixture";

describe("what is shown before the server answers", () => {
  it("has fields that were set in it, however deep, and nothing else changed", () => {
    const view = viewOf("right");
    const edit = { op: "set_fields" as const, sheet: "right", layers: ["c"], expect: {} };
    const next = foreseen(view, {
      ...edit,
      fields: { opacity: 0.5, "border.width_mm": 9, "shadow.kind": "drop" },
    });
    expect(openingOf(next, "c")).toMatchObject({
      opacity: 0.5,
      border: { width_mm: 9, colour: "#ffffff", side: "inside" },
      shadow: { kind: "drop" },
    });
    expect(openingOf(view, "c")?.opacity).toBe(1);
    expect(next.rows).toBe(view.rows);
    expect(foreseen(view, { ...edit, sheet: "left", fields: { opacity: 0 } })).toBe(view); // another sheet's
  });
  it("has what was shifted where it lies then, with all in it", () => {
    const frames = new Map([["c", [[0, 0], [10, 0], [10, 5], [0, 5]]], ["x", [[1, 1]]]] as never); // biome-ignore format: short
    const view = { ...viewOf("right"), frames } as View;
    const carry = { op: "carry" as const, sheet: "right", layers: ["g"], by: [2, -1] as [number, number] };
    const next = foreseen(view, carry as never);
    expect(next.frames.get("c")).toEqual([[2, -1], [12, -1], [12, 4], [2, 4]]); // biome-ignore format: short
    expect(next.frames.get("x")).toEqual([[1, 1]]);
  });
  it("has recipes and words in it, or has them no more", () => {
    const recipe = { steps: [{ kind: "black_and_white", on: true }] } as never;
    const view = viewOf("right");
    const mended = foreseen(view, { op: "mend_photo", edition: "", photo: "p1", recipe });
    expect(mended.own.photo_tones).toEqual({ p1: recipe });
    const plain = foreseen(view, {
      op: "mend_opening",
      sheet: "right",
      edition: "",
      opening: "c",
      recipe: null,
    });
    expect(plain.filling.tones).toEqual({});
    const said = foreseen(view, { op: "write", sheet: "right", edition: "", layer: "t", text: "Wind" });
    expect(said.filling.texts).toEqual({ t: "Wind" });
    expect(
      foreseen(said, { op: "write", sheet: "right", edition: "", layer: "t", text: null }).filling.texts,
    ).toEqual({});
  });
  it("has pins in it, so that the key pressed twice lets go again", () => {
    const view = viewOf("left");
    const pin = { op: "pin" as const, sheet: "left", edition: "", openings: ["a"] };
    const pinned = foreseen(view, { ...pin, pinned: true });
    expect(pinned.rows.map(({ opening, pinned }) => [opening, !!pinned])).toContainEqual(["a", true]);
    expect(foreseen(pinned, { ...pin, pinned: false }).rows.some((row) => row.pinned)).toBe(false);
  });
  it("has what is said of photos and of the job in it", () => {
    const view = viewOf("left");
    const worked = foreseen(view, { op: "worked", photos: ["p1"], worked: true });
    expect([worked.photo.get("p1")?.already_worked, worked.photos[0]?.already_worked]).toEqual([true, true]);
    const areas = [{ kind: "hand" as const, left: 0, top: 0, width: 0.5, height: 0.5 }];
    expect(foreseen(view, { op: "mark", photo: "p1", areas }).photo.get("p1")?.marked).toBe(areas);
    expect(foreseen(view, { op: "enhance_all", on: true }).job.enhance).toBe(true);
    const renamed = foreseen(view, { op: "rename", name: "Brandvik", customer: "Ola" });
    expect(renamed.job).toMatchObject({ name: "Brandvik", customer: "Ola" });
    expect(renamed.job.order_number).toBe(view.job.order_number);
  });
  it("is what was known when only the core can say what comes of it", () => {
    const view = viewOf("left");
    expect(foreseen(view, { op: "clear", sheet: "left", edition: "", openings: ["a"] })).toBe(view);
  });
});

describe("layers", () => {
  it("are found in groups, and not in hidden ones", () => {
    const view = viewOf("right");
    expect(leaves(view.layout).map(({ id }) => id)).toEqual(["c-echo-1", "c"]);
    expect(openingOf(view, "c-echo-1")).toBeUndefined();
    expect(openingOf(view, undefined)).toBeUndefined();
    expect(echoesOf(view, "c").map(({ id }) => id)).toEqual(["c-echo-1"]);
    const hidden = view.layout.layers.map((layer) =>
      layer.kind === "group" ? { ...layer, visible: false } : layer,
    );
    expect(openingOf({ ...view, layout: { ...view.layout, layers: hidden } }, "c")).toBeUndefined();
  });
});

describe("an edit as a panel says it", () => {
  it("is of the sheet and edition in view, unless it says another", () => {
    const view = viewOf("left");
    expect(addressed(view, { op: "clear", openings: ["a"] })).toEqual({
      op: "clear", sheet: "left", edition: "first", openings: ["a"],
    }); // biome-ignore format: an edit
    expect(addressed(view, { op: "put", sheet: "right", opening: "c", photo: "p1" })).toMatchObject({
      sheet: "right",
    });
    expect(addressed(view, { op: "rename", name: "x", customer: "" })).toEqual({
      op: "rename",
      name: "x",
      customer: "",
    });
    expect(spot(view, "a")).toEqual({ sheet: "left", opening: "a" });
  });
});

describe("a view", () => {
  const head = {
    id: "job", seq: 3, root: "r", undo: "", redo: "", edition: "first", unseen: 0,
    job: { name: "n", lab: "lab", sheets: "ss", pile: "pp", editions: ["ee"] },
    marks: [{ key: "kk", ratio: 2, counts: null }],
  } as unknown as JobHead; // biome-ignore format: a head
  it("says what is missing until all of it is here, then is put together", () => {
    expect(assembled(head, "s1")).toEqual([
      { kind: "sheets", name: "ss" },
      { kind: "labs", name: "lab" },
      { kind: "piles", name: "pp" },
      { kind: "editions", name: "ee" },
    ]);
    keep("sheets", "ss", {
      sheets: [{ id: "s1", name: "One", role: "page", layout: "ll", fields: {}, variant: "" }],
    });
    keep("labs", "lab", {} as never);
    keep("piles", "pp", { chunks: ["c1", "c2"], photos: [] });
    keep("editions", "ee", {
      id: "first",
      name: "First",
      photo_tones: {},
      fields: {},
      copies: 1,
      variant: "",
      fillings: { s1: "ff" },
    });
    keep("chunks", "c1", {
      photos: [{ id: "p1", name: "mine.jpg", sample: false, already_worked: false, stars: 0, aside: false }],
    });
    expect(assembled(head, "")).toEqual([{ kind: "chunks", name: "c2" }]);
    keep("chunks", "c2", {
      photos: [{ id: "p2", name: "b.jpg", sample: false, already_worked: false, stars: 0, aside: false }],
    });
    expect(assembled(head, "")).toEqual([
      { kind: "layouts", name: "ll" },
      { kind: "places", name: "ll" },
      { kind: "fillings", name: "ff" },
      { kind: "measured", name: "kk" },
    ]);
    keep("layouts", "ll", { layers: [] } as never);
    keep("places", "ll", {
      openings: [{ number: 1, opening: "a", name: "A" }],
      echoes: [],
      layers: [],
    } as never);
    keep("fillings", "ff", {
      placements: {},
      texts: {},
      runs: {},
      pins: [],
      spans: {},
      tones: {},
      by_hand: [],
      accepted: [],
    });
    keep("measured", "kk", {
      rows: [{ number: 1, opening: "a", photo: "p1", status: "order" }],
      findings: [],
    } as never);
    keepFacts({ ...photo("p1", 30, 20, "theirs.jpg"), already_worked: true } as never);
    const view = assembled(head, "nowhere") as View;
    expect(view.sheet.id).toBe("s1"); // the first, when the one asked for is gone
    expect(view.rows[0]).toMatchObject({ name: "A", photo: "p1" });
    // Facts are the file's; its name, and what is said of it, are the job's. What is not known yet is left out.
    expect(view.photos).toEqual([
      expect.objectContaining({ id: "p1", name: "mine.jpg", already_worked: false, width: 30 }),
    ]);
  });
});
