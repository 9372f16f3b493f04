import { Slider } from "@mantine/core";
import limits from "../api/limits.json";
import { useKept } from "../editing/kept";
import { t } from "../words";
import css from "./dial.module.css";
import { NumberField } from "./NumberField";
import { useUnit } from "./units";

type Limits = Record<string, Record<string, number[]>>;

interface Props {
  label: string;
  value: number;
  /** What the track covers; the figures take whatever the document allows. */
  min: number;
  max: number;
  /** The document's model and field, whose limits the figures keep: "Border.width_mm". */
  of?: string;
  /** How many of the shown are one of the stored: 100 where a share is shown in per cent. */
  per?: number;
  step?: number;
  unit?: string;
  disabled?: boolean;
  onKeep: (value: number, gesture: string) => void;
}

/** The least and most the document allows a field. */
function allowed(of: string | undefined, per: number, min: number, max: number): [number, number] {
  const [model = "", field = ""] = of?.split(".") ?? [];
  const [low = min / per, high = max / per] = (limits as unknown as Limits)[model]?.[field] ?? [];
  return [low * per, high * per];
}

/** A number that is slid or typed, in one line: its name, a track, its figures. */
export function Dial({ label, value, min, max, of, per = 1, step = 1, unit = "", disabled, onKeep }: Props) {
  const { shown, change } = useKept(value, onKeep);
  const job = useUnit();
  const [low, high] = allowed(of, per, min, max);
  return (
    <div className={css.dial} data-disabled={disabled || undefined}>
      <span>{label}</span>
      <Slider
        size="xs"
        thumbLabel={label}
        label={null}
        min={min}
        max={max}
        step={step}
        value={Math.min(max, Math.max(min, shown))}
        disabled={disabled}
        onChange={(next) => next !== shown && change(next)}
      />
      <NumberField
        bare
        label={t("{label}, in figures", { label })}
        min={low}
        max={high}
        step={step}
        unit={unit}
        value={shown}
        disabled={disabled}
        onKeep={change}
      />
      <small>{unit === "mm" ? job.unit : unit}</small>
    </div>
  );
}
