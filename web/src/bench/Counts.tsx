import type { View } from "../editing/view";
import { Mark } from "../ui/Mark";
import { t } from "../words";
import css from "./bench.module.css";

/** How many stops and looks there are on all sheets. */
export function countFindings(state: View): { stops: number; looks: number } {
  const count = (severity: string, place: number) =>
    state.marks.reduce(
      (sum, { counts }, index) =>
        sum +
        (index === state.at
          ? state.findings.filter((finding) => finding.severity === severity).length
          : (counts?.[place] ?? 0)),
      0,
    );
  return { stops: count("stop", 2), looks: count("look", 3) };
}

/** The counts, by their marks. */
export function Counts({ state }: { state: View }) {
  const { stops, looks } = countFindings(state);
  const checking =
    state.rows.some((row) => row.checking) || state.marks.some(({ counts }) => !counts || counts[4]);
  return (
    <span className={`${css.counts} num`}>
      {t("Findings")}
      {stops > 0 && (
        <>
          <Mark status="stop" /> {stops}
        </>
      )}
      {looks > 0 && (
        <>
          <Mark status="look" /> {looks}
        </>
      )}
      {stops + looks === 0 && <Mark status={checking ? "checking" : "order"} />}
    </span>
  );
}
