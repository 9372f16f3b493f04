import type { KeyboardEvent } from "react";
import { follow } from "./follow";
import css from "./pulledEdge.module.css";

const STEP = 40;

interface Props {
  label: string;
  /** The way the line runs: what lies above and below it, or left and right, is sized. */
  runs: "across" | "down";
  /** How large the part is that is sized, px, and between what it may be. */
  size: number;
  least?: number;
  most: number;
  onSize: (size: number) => void;
  /** A double click, or Home: as large as it is by itself. */
  onReset?: () => void;
}

/** The upper or left edge of a part of the screen, pulled to size it; by the arrows as well. */
export function PulledEdge({ label, runs, size, least = 0, most, onSize, onReset }: Props) {
  const settle = (wished: number) => onSize(Math.round(Math.min(most, Math.max(least, wished))));
  const press = (event: KeyboardEvent) => {
    const larger = runs === "across" ? "ArrowUp" : "ArrowLeft";
    const smaller = runs === "across" ? "ArrowDown" : "ArrowRight";
    if (event.key === "Home" && onReset) onReset();
    else if (event.key === larger) settle(size + STEP);
    else if (event.key === smaller) settle(size - STEP);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      className={css.edge}
      data-runs={runs}
      role="separator"
      aria-label={label}
      aria-orientation={runs === "across" ? "horizontal" : "vertical"}
      aria-valuenow={Math.round(size)}
      aria-valuemin={least}
      aria-valuemax={Math.round(most)}
      tabIndex={0}
      onKeyDown={press}
      onDoubleClick={onReset}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.preventDefault();
        const placeOf = (one: { clientX: number; clientY: number }) =>
          runs === "across" ? one.clientY : one.clientX;
        const from = placeOf(event) + size;
        follow(
          event,
          (next) => settle(from - placeOf(next)),
          () => {},
          () => settle(size),
        );
      }}
    />
  );
}
