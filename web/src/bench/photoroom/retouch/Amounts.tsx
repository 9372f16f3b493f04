import { Dial } from "../../../ui/Dial";
import { t } from "../../../words";
import type { Change } from "./brush";

const AMOUNTS: [Change, string, number, number, number, string][] = [
  ["light", t("Exposure"), -4, 4, 0.05, "EV"],
  ["warmth", t("Warmth"), -100, 100, 1, ""],
  ["saturation", t("Saturation"), -100, 100, 1, ""],
  ["sharpness", t("Sharpness"), -100, 100, 1, ""],
];

/** By how much an area is changed, and how closely it keeps to edges. */
export function Amounts({
  values,
  edges,
  onAmount,
  onEdges,
}: {
  values: Record<Change, number>;
  edges: number;
  onAmount: (name: Change, value: number, gesture: string) => void;
  onEdges: (edges: number, gesture: string) => void;
}) {
  return (
    <>
      {AMOUNTS.map(([name, label, min, max, step, unit]) => (
        <Dial
          key={name}
          label={label}
          unit={unit}
          min={min}
          max={max}
          step={step}
          of={`Adjust.${name}`}
          value={values[name]}
          onKeep={(value, gesture) => onAmount(name, value, gesture)}
        />
      ))}
      <Dial
        label={t("Follow edges")}
        unit="%"
        min={0}
        max={100}
        value={Math.round(edges * 100)}
        onKeep={(value, gesture) => onEdges(value / 100, gesture)}
      />
    </>
  );
}
