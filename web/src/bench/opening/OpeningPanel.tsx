import { SegmentedControl } from "@mantine/core";
import { type Part, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { openingOf } from "../../editing/view";
import { Mark } from "../../ui/Mark";
import { useUnit } from "../../ui/units";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import { FoundHere } from "../Findings";
import css from "../side.module.css";
import { FitPart } from "./FitPart";
import { FramePart } from "./FramePart";
import { SurfacePart } from "./SurfacePart";
import { TonePart } from "./TonePart";

const PARTS: { value: Part; label: string }[] = [
  { value: "fit", label: t("Fit") },
  { value: "surface", label: t("Surface") },
  { value: "frame", label: t("Frame") },
  { value: "tone", label: t("Tone") },
];

/** The selected opening: how its photo lies, how it lies itself, what frames it, how its photo is mended. */
export function OpeningPanel({ state, opening }: { state: View; opening: string }) {
  const { part, set } = usePicked(useBench, "part", "set");
  const { length } = useUnit();
  const row = state.rows.find((entry) => entry.opening === opening);
  const layer = openingOf(state, opening);
  if (!row || !layer) return null;
  const findings = state.findings.filter((finding) => finding.layer === opening);
  return (
    <section className={css.panel} aria-label={t("Opening {number}", { number: row.number })}>
      <h3>
        {row.photo && <Mark status={row.status} />} {t("Opening {number}", { number: row.number })}
        <small className="num">{`${length(row.width_mm)} × ${length(row.height_mm)}`}</small>
      </h3>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={t("What to change")}
        value={part}
        onChange={(value) => set({ part: value as Part })}
        data={PARTS}
      />
      <div className={css.part}>
        {part === "fit" && <FitPart state={state} row={row} />}
        {part === "surface" && <SurfacePart state={state} layer={layer} row={row} />}
        {part === "frame" && <FramePart state={state} layers={[layer]} />}
        {part === "tone" && <TonePart state={state} row={row} />}
      </div>
      <section
        className={css.foundHere}
        aria-label={t("Found here")}
        tabIndex={findings.length > 0 ? 0 : undefined}
      >
        <FoundHere findings={findings} />
      </section>
    </section>
  );
}
