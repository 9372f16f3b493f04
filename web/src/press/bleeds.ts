/** How far a file of a page bleeds, as the lab sheet wants it: what ``LabSheet.bled`` says. */
import type { LabSheet } from "../api/client";

export const SIDES = ["left", "top", "right", "bottom"] as const;
const SIZE_MM = 0.5;

/** Left, top, right and bottom, mm. */
export function bled(lab: LabSheet, width: number, height: number, bleed: number) {
  const near = (a: number, b: number) => Math.abs(a - b) <= SIZE_MM;
  const wanted = (lab.blanks ?? [])
    .filter(
      ({ width_mm: w, height_mm: h }) =>
        (near(w, width) && near(h, height)) || (near(w, height) && near(h, width)),
    )
    .reduce((least, blank) => Math.min(least, blank.bleed_mm ?? 3), bleed);
  return SIDES.map((side) => ((lab.bleeds ?? SIDES).includes(side) ? wanted : 0)) as [
    number,
    number,
    number,
    number,
  ];
}
