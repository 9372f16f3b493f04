/** Runs: words in another look than their box. Letters are counted as the server counts them, by code points. */
import type { Text } from "../api/client";

export type Run = NonNullable<Text["runs"]>[number];
/** What a run may say of its words' look. */
export type Look = Partial<Omit<Run, "start" | "end">>;

/** How many letters stand before a place in a string. */
export const letters = (words: string, place = words.length) => [...words.slice(0, place)].length;

const FIELDS = ["style", "font", "size_pt", "colour", "weight", "slant", "tracking", "caps"] as const;

const lookOf = (run: Run): Look =>
  Object.fromEntries(FIELDS.flatMap((name) => (isGiven(run[name]) ? [[name, run[name]]] : []))) as Look;

const isGiven = (value: unknown) => value !== undefined && value !== null && value !== "";

/** The look of each letter; nothing where it is the box's. */
function spread(runs: readonly Run[], count: number): Look[] {
  const looksOf: Look[] = Array.from({ length: count }, () => ({}));
  for (const run of runs) {
    const look = lookOf(run);
    for (let index = run.start; index < Math.min(run.end, count); index += 1) looksOf[index] = look;
  }
  return looksOf;
}

function gathered(looks: readonly Look[]): Run[] {
  const runsMade: Run[] = [];
  let last = "";
  looks.forEach((look, index) => {
    const key = JSON.stringify(look);
    const before = runsMade[runsMade.length - 1];
    if (before && before.end === index && key === last) before.end = index + 1;
    else if (key !== "{}") runsMade.push({ ...look, start: index, end: index + 1 } as Run);
    last = key;
  });
  return runsMade;
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
  const looks = spread(runs, count).map((one, index) => {
    if (index < start || index >= end) return one;
    if (look === "plain") return {};
    const merged = { ...one, ...look };
    return Object.fromEntries(
      FIELDS.flatMap((name) => (isGiven(merged[name]) ? [[name, merged[name]]] : [])),
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
