import { Checkbox } from "@mantine/core";
import type { ReactNode } from "react";
import { useKept } from "../editing/kept";

/** A box that is ticked at once and kept at once. */
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
    <Checkbox
      size="xs"
      py={5}
      label={children}
      checked={shown}
      onChange={(event) => change(event.currentTarget.checked)}
    />
  );
}
