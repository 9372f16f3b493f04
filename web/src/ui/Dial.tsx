import { useId } from "react";
import css from "./dial.module.css";
import { useKept } from "./kept";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  disabled?: boolean;
  onKeep: (value: number, gesture: string) => void;
}

/** A number that is slid or typed, in one line: its name, a track, its figures. */
export function Dial({ label, value, min, max, step = 1, unit = "", disabled, onKeep }: Props) {
  const id = useId();
  const { shown, change } = useKept(value, onKeep);
  const digits = step >= 1 ? 0 : step >= 0.1 ? 1 : 2;
  const set = (text: string) => {
    const next = Number(text);
    if (text !== "" && Number.isFinite(next)) change(Math.min(max, Math.max(min, next)));
  };
  return (
    <div className={css.dial} data-disabled={disabled || undefined}>
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        type="range"
        min={min}
        max={max}
        step={step}
        value={shown}
        disabled={disabled}
        onChange={(event) => set(event.target.value)}
        onDoubleClick={() => change(min < 0 && max > 0 ? 0 : value)}
      />
      <input
        className="num"
        type="number"
        aria-label={`${label}, in figures`}
        min={min}
        max={max}
        step={step}
        value={Number(shown.toFixed(digits))}
        disabled={disabled}
        onChange={(event) => set(event.target.value)}
      />
      <span>{unit}</span>
    </div>
  );
}
