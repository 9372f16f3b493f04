import { TextInput } from "@mantine/core";
import { useRef, useState } from "react";
import { useLeft } from "./left";

interface Props {
  label: string;
  /** As 2027-01. */
  value: string;
  /** Without its label seen: the label only names it. */
  bare?: boolean;
  onKeep: (value: string) => void;
}

/** A month, kept once all of it is said and the field is left. */
export function MonthField({ label, value, bare, onKeep }: Props) {
  const [typed, setTyped] = useState<string>();
  const box = useRef<HTMLInputElement>(null);
  const keep = () => {
    if (typed && /^\d{4}-\d\d$/.test(typed) && typed !== value) onKeep(typed);
    setTyped(undefined);
  };
  useLeft(box, typed !== undefined, keep);
  return (
    <TextInput
      ref={box}
      size="xs"
      type="month"
      label={bare ? undefined : label}
      aria-label={bare ? label : undefined}
      value={typed ?? value}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={keep}
    />
  );
}
