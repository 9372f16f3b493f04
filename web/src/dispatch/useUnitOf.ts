import { remembered } from "../bench/address";
import type { View } from "../editing/view";
import { pageSize } from "../ui/format";
import type { Unit } from "../ui/units";

/** The job's unit, as it was chosen on the bench, or as its sheets are measured. */
export function useUnitOf(state: View): Unit {
  const { width_mm, height_mm } = state.layout;
  return remembered(state.id).unit ?? (pageSize(width_mm, height_mm).endsWith("in") ? "in" : "mm");
}
