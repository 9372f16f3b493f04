/** Runs: words in another look than their box. Letters are counted as the server counts them, by code points. */
import type { Text } from "../api/client";

export type Run = NonNullable<Text["runs"]>[number];
/** What a run may say of its words' look. */
export type Look = Partial<Omit<Run, "start" | "end">>;

/** How many letters stand before a place in a string. */
export const letters = (words: string, place = words.length) => [...words.slice(0, place)].length;

const FIELDS = ["style", "font", "size_pt", "colour", "weight", "slant", "tracking", "caps"] as const;

const lookOf = (run: Run): Look =>
  Object.fromEntries(FIELDS.flatMap((name) => (said(run[name]) ? [[name, run[name]]] : []))) as Look;

const said = (value: unknown) => value !== undefined && value !== null && value !== "";

/** The look of each letter; nothing where it is the box's. */
function spread(runs: readonly Run[], count: number): Look[] {
  const found: Look[] = Array.from({ length: count }, () => ({}));
  for (const run of runs) {
    const look = lookOf(run);
    for (let at = run.start; at < Math.min(run.end, count); at += 1) found[at] = look;
  }
  return found;
}

function gathered(looks: readonly Look[]): Run[] {
  const found: Run[] = [];
  let last = "";
  looks.forEach((look, at) => {
    const key = JSON.stringify(look);
    const before = found[found.length - 1];
    if (before && before.end === at && key === last) before.end = at + 1;
    else if (key !== "{}") found.push({ ...look, start: at, end: at + 1 } as Run);
    last = key;
  });
  return found;
}

/** Runs as they lie in words that were changed: what was typed looks as what stands before it. */
export function shifted(runs: readonly Run[], before: string, after: string): Run[] {
  if (!runs.length) return [];
  const [old, now] = [[...before], [...after]];
  let head = 0;
  while (head < old.length && head < now.length && old[head] === now[head]) head += 1;
  let tail = 0;
  while (
    tail < old.length - head &&
    tail < now.length - head &&
    old[old.length - 1 - tail] === now[now.length - 1 - tail]
  )
    tail += 1;
  const looks = spread(runs, old.length);
  const typed = looks[head - 1] ?? {};
  return gathered([
    ...looks.slice(0, head),
    ...Array.from({ length: now.length - head - tail }, () => typed),
    ...looks.slice(old.length - tail),
  ]);
}

/** Runs in which the letters from `start` up to `end` look so too; a field that says undefined is the box's again. */
export function applied(
  runs: readonly Run[],
  count: number,
  start: number,
  end: number,
  look: { [K in keyof Look]: Look[K] | undefined } | "plain",
): Run[] {
  const looks = spread(runs, count).map((one, at) => {
    if (at < start || at >= end) return one;
    if (look === "plain") return {};
    const merged = { ...one, ...look };
    return Object.fromEntries(
      FIELDS.flatMap((name) => (said(merged[name]) ? [[name, merged[name]]] : [])),
    ) as Look;
  });
  return gathered(looks);
}

/** What all letters of a stretch say of their look. */
export function common(runs: readonly Run[], count: number, start: number, end: number): Look {
  const [first, ...rest] = spread(runs, count).slice(start, end);
  if (!first) return {};
  return Object.fromEntries(
    Object.entries(first).filter(([name, value]) =>
      rest.every((other) => other[name as keyof Look] === value),
    ),
  ) as Look;
}
