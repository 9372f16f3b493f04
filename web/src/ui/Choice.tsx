import { Select } from "@mantine/core";
import css from "./choice.module.css";

/** One of a few, in a line with its name. */
export function Choice<Value extends string>({
  label,
  value,
  data,
  bare,
  wide,
  onChange,
}: {
  label: string;
  value: Value;
  data: readonly (Value | { value: Value; label: string })[];
  /** Without its label seen: the label only names it. */
  bare?: boolean;
  wide?: boolean;
  onChange: (value: Value) => void;
}) {
  return (
    <Select
      size="xs"
      classNames={{ root: css.choice, label: css.label }}
      label={bare ? undefined : label}
      aria-label={bare ? label : undefined}
      allowDeselect={false}
      data-wide={wide || undefined}
      value={value}
      data={[...data]}
      comboboxProps={{ shadow: "md" }}
      onChange={(next) => next !== null && next !== value && onChange(next as Value)}
    />
  );
}
