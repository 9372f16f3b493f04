import { NativeSelect } from "@mantine/core";

/** One of a few, in the browser's own list: for screens that have to stand at once. */
export function NativeChoice<Value extends string>({
  label,
  value,
  data,
  onChange,
}: {
  label: string;
  value: Value;
  data: readonly { value: Value; label: string }[];
  onChange: (value: Value) => void;
}) {
  return (
    <NativeSelect
      size="xs"
      aria-label={label}
      value={value}
      data={[...data]}
      onChange={(event) => onChange(event.currentTarget.value as Value)}
    />
  );
}
