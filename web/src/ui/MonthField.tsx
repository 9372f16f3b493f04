import { TextInput } from "@mantine/core";
import { useTyped } from "./typed";

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
  const { field } = useTyped(value, (typed) => /^\d{4}-\d\d$/.test(typed) && onKeep(typed));
  return (
    <TextInput
      {...field}
      size="xs"
      type="month"
      label={bare ? undefined : label}
      aria-label={bare ? label : undefined}
    />
  );
}
