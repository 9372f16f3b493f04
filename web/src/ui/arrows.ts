/** Arrow keys that move something: how far, and which presses are one step of undo. */

const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
const PAUSE_MS = 1500;

/** How far an arrow key moves, in mm; undefined for any other key. */
export function shiftOf(key: string, isFine: boolean): [number, number] | undefined {
  const way = WAYS[key];
  const step = isFine ? 0.1 : 1;
  return way && [way[0] * step, way[1] * step];
}

/** Names the gesture that a press belongs to: the one of the press before, unless a pause lies between. */
export function keyRuns(): () => string {
  let run = { gesture: "", at: 0 };
  return () => {
    if (Date.now() - run.at > PAUSE_MS) run = { gesture: `run-${crypto.randomUUID()}`, at: 0 };
    run.at = Date.now();
    return run.gesture;
  };
}
