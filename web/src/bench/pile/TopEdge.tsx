import type { KeyboardEvent } from "react";
import { follow } from "../../ui/follow";
import css from "./pile.module.css";

const LEAST = 180;
const STEP = 40;

/** The edge of the pile, pulled up to open its photos over the stage, and down to a strip again. */
export function TopEdge({ high, onHigh }: { high: number; onHigh: (high: number) => void }) {
  const most = () => innerHeight - 60;
  const settle = (wished: number) => onHigh(wished < LEAST ? 0 : Math.min(most(), Math.round(wished)));
  const press = (event: KeyboardEvent) => {
    const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    settle(high || by < 0 ? high + by : LEAST);
  };
  return (
    <div
      className={css.edge}
      role="separator"
      aria-label="Height of the pile"
      aria-orientation="horizontal"
      aria-valuenow={high}
      aria-valuemin={0}
      aria-valuemax={most()}
      tabIndex={0}
      onKeyDown={press}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.preventDefault();
        const from = event.clientY + (event.currentTarget.parentElement?.offsetHeight ?? 0);
        follow(
          event,
          (next) => settle(from - next.clientY),
          () => {},
        );
      }}
    />
  );
}
