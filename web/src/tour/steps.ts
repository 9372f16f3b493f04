/** The steps of the tour, told by how its job stands. Pure. */

export interface Standing {
  screen: "bench" | "dispatch";
  openings: number;
  filled: number;
  stops: number;
  exported: boolean;
}

export const STEPS = ["fill", "mend", "dispatch", "export", "done"] as const;
export type Step = (typeof STEPS)[number];

/** What is to be done next. A step back in the job, such as an undo, is a step back in the tour. */
export function nextStep({ screen, openings, filled, stops, exported }: Standing): Step {
  if (filled < openings) return "fill";
  if (stops > 0) return "mend";
  if (exported) return "done";
  return screen === "dispatch" ? "export" : "dispatch";
}
