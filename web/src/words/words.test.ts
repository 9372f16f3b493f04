import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { gather, gatherAll, listMessages } from "../../plugins/gather.mjs";
import { t, tn } from ".";

describe("what is read", () => {
  it("stands in messages, and in nothing beside them", () => {
    const strays = Object.entries(gatherAll()).flatMap(([name, { strays }]) =>
      strays.map((text) => `${name}: ${text}`),
    );
    expect(strays).toEqual([]);
  });

  it("is found wherever it goes around the messages", () => {
    const found = gather(
      `const Seen = ({ n }) => <p title="Title" id="is none">Words {n ? "and more" : t("well")} <b aria-label={\`of \${n} photos\`} /></p>;
       const menu = [{ label: "Open", value: "open" }];`,
      "seen.tsx",
    );
    expect(found.strays.map((text) => text.trim()).sort()).toEqual([
      "Open",
      "Title",
      "Words",
      "and more",
      "of   photos",
    ]);
    expect(found.messages).toEqual([["well", null]]);
  });

  it("is listed as it is: npm run messages", () => {
    expect(readFileSync(join(import.meta.dirname, "..", "..", "messages.txt"), "utf8")).toBe(listMessages());
  });

  it("is given all its values", () => {
    const missing = Object.entries(gatherAll()).flatMap(([name, { missing }]) =>
      missing.map((value) => `${name}: {${value}}`),
    );
    expect(missing).toEqual([]);
    expect(
      gather('t("{a} of {b}", { a }); tn(3, "{n} page of {c}", "{n} pages of {c}")', "seen.ts").missing,
    ).toEqual(["b", "c", "c"]);
  });

  it("has its values put in, once", () => {
    expect(t("Opening {number}, {name}", { number: 3, name: "{number} <b>" })).toBe(
      "Opening 3, {number} <b>",
    );
  });

  it("takes whatever a customer or a file is called", () => {
    for (const name of ["$t(Save)", "$&", "{{name}}", "a, b", "Ñandú 凧"])
      expect(t("{name}, {count}, {context}", { name, count: 2, context: "x", lng: "de" })).toBe(
        `${name}, 2, x`,
      );
  });

  it("counts", () => {
    expect(
      [0, 1, 2].map((n) => tn(n, "{n} page of {name}", "{n} pages of {name}", { name: "Kites" })),
    ).toEqual(["0 pages of Kites", "1 page of Kites", "2 pages of Kites"]);
  });
});
