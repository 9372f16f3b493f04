import type { ReactNode } from "react";
import { useKept } from "./kept";
import css from "./tick.module.css";

/** A box that is ticked at once and kept a moment later. */
export function Tick({
  on,
  onChange,
  children,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
}) {
  const { shown, change } = useKept(on, onChange, 0);
  return (
    <label className={css.tick}>
      <input type="checkbox" checked={shown} onChange={(event) => change(event.target.checked)} />
      {children}
    </label>
  );
}
