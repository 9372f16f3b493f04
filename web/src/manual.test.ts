import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { pageOf, sectionsOf } from "../plugins/manual";

const SOURCE = readFileSync(join(import.meta.dirname, "..", "..", "docs", "using.md"), "utf8");
const here = (name: string) => readFileSync(join(import.meta.dirname, name), "utf8");

describe("the manual", () => {
  it("has an anchor for each section, and every link leads to one", () => {
    const page = pageOf(SOURCE, "9.9");
    for (const { anchor } of sectionsOf(SOURCE)) expect(page).toContain(`<h2 id="${anchor}">`);
    for (const [, anchor] of page.matchAll(/href="#([^"]+)"/g)) expect(page).toContain(`id="${anchor}"`);
    expect(page).toContain("Sutaru 9.9");
    expect(page).not.toContain("<script");
  });
  it("has the section that each screen opens", () => {
    const anchors = sectionsOf(SOURCE).map(({ anchor }) => anchor);
    for (const screen of [
      "bench/Bench.tsx",
      "plan/Plan.tsx",
      "workshop/Workshop.tsx",
      "bench/photoroom/retouch/RetouchSide.tsx",
    ]) {
      const [, anchor] = /manual="([^"]+)"/.exec(here(screen)) ?? [];
      expect(anchors, screen).toContain(anchor);
    }
  });
});
