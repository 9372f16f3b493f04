import { Button, Popover, TextInput } from "@mantine/core";
import { useState } from "react";
import { t } from "../words";
import css from "./saveByName.module.css";

/** A button that asks for a name and saves under it; one that is taken is said to be replaced. */
export function SaveByName({
  label,
  field,
  size,
  names,
  first = "",
  disabled,
  busy,
  position = "top",
  onSave,
}: {
  label: string;
  field: string;
  size: "xs" | "compact-xs";
  /** Names that there are. */
  names: string[];
  first?: string;
  disabled?: boolean;
  busy: boolean;
  position?: "top" | "right";
  /** Whether it was saved: the form is closed then. */
  onSave: (name: string) => Promise<boolean>;
}) {
  const [name, setName] = useState<string>();
  const typed = name?.trim() ?? "";
  return (
    <Popover opened={name !== undefined} onChange={() => setName(undefined)} trapFocus position={position}>
      <Popover.Target>
        <Button
          size={size}
          variant="default"
          disabled={disabled}
          onClick={() => setName(name === undefined ? first : undefined)}
        >
          {label}
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          className={css.form}
          onSubmit={async (event) => {
            event.preventDefault();
            if (typed && (await onSave(typed))) setName(undefined);
          }}
        >
          <TextInput
            size="xs"
            label={field}
            data-autofocus
            maxLength={60}
            value={name ?? ""}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Button size="xs" type="submit" disabled={!typed} loading={busy}>
            {names.some((one) => one.toLowerCase() === typed.toLowerCase()) ? t("Replace") : t("Save")}
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}
