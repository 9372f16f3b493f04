/** The shape of the front end: folders show the house, and no two modules import each other, however far round. */
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";
import { expect, it } from "vitest";

const ROOT = dirname(new URL(import.meta.url).pathname);

function modules(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return modules(path);
    return /\.tsx?$/.test(name) && !/\.(test|fixture|d)\./.test(name) ? [path] : [];
  });
}

const imports = new Map(
  modules(ROOT).map((path) => {
    const found = [...readFileSync(path, "utf8").matchAll(/(?:from|import) "(\.[^"]+)"/g)].flatMap(
      ([, to = ""]) => {
        const base = resolve(dirname(path), to);
        return (
          [base, `${base}.ts`, `${base}.tsx`].find((name) => existsSync(name) && statSync(name).isFile()) ??
          []
        );
      },
    );
    return [path, found];
  }),
);

it("has no circle of imports, types included", () => {
  const done = new Set<string>();
  const walk = (path: string, way: string[]): string[] | undefined => {
    if (way.includes(path)) return [...way.slice(way.indexOf(path)), path];
    if (done.has(path)) return undefined;
    for (const next of imports.get(path) ?? []) {
      const circle = walk(next, [...way, path]);
      if (circle) return circle;
    }
    done.add(path);
    return undefined;
  };
  for (const path of imports.keys())
    expect(walk(path, [])?.map((one) => relative(ROOT, one))).toBeUndefined();
});

it("gives up requests that a later one replaces: every query hands its signal on, but for what a key asks for", () => {
  const asks = (path: string) => /client\.(fetch|ensure)Query/.test(readFileSync(path, "utf8"));
  const deaf = [...imports.keys()].filter(
    (path) =>
      !asks(path) &&
      [...readFileSync(path, "utf8").matchAll(/queryFn:([\s\S]*?)\b(answer|want\w*)\b/g)].some(
        ([, head = "", kind = ""]) => kind === "answer" && !head.includes("signal"),
      ),
  );
  expect(deaf.map((path) => relative(ROOT, path))).toEqual([]);
});

it("has no module so long that it has two ideas", () => {
  const long = [...imports.keys()].filter((path) => readFileSync(path, "utf8").split("\n").length > 401);
  expect(long.map((path) => relative(ROOT, path))).toEqual([]);
});

it("has arrows one way: geometry knows no React, editing no screen, the stage no bench", () => {
  const from = (folder: string) =>
    [...imports].filter(([path]) => relative(ROOT, path).startsWith(`${folder}/`));
  const reaches = (folder: string, other: string) =>
    from(folder).flatMap(([path, to]) =>
      to.some((one) => relative(ROOT, one).startsWith(`${other}/`)) ? [relative(ROOT, path)] : [],
    );
  expect(reaches("geometry", "editing")).toEqual([]);
  for (const screen of ["bench", "shelf", "dispatch", "workshop"]) {
    expect(reaches("editing", screen)).toEqual([]);
    expect(reaches("stage", screen)).toEqual([]);
    expect(reaches("ui", screen)).toEqual([]);
  }
});
