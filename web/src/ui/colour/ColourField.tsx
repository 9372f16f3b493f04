import { Button, Popover, TextInput, Tooltip } from "@mantine/core";
import { useState } from "react";
import { useChange } from "../../editing/changes";
import type { View } from "../../editing/view";
import { t } from "../../words";
import { ColourInput } from "./ColourInput";
import css from "./colour.module.css";
import { called, namedColours, seenColour } from "./colours";

/** A colour: one of its own, or one that has a name and changes wherever it is used. */
export function ColourField({
  state,
  label,
  bare,
  value,
  onChange,
}: {
  state: View;
  label: string;
  /** Without its label seen. */
  bare?: boolean;
  value: string;
  onChange: (colour: string) => void;
}) {
  const seen = seenColour(state, value);
  return (
    <div className={css.colour}>
      <ColourInput label={label} bare={bare} value={seen} onChange={onChange} />
      <fieldset className={css.chips} aria-label={t("{label}: named colours", { label })}>
        {namedColours(state).map(([name, hex]) => (
          <Tooltip key={name} label={called(name)}>
            <button
              type="button"
              aria-label={called(name)}
              aria-pressed={value === name}
              style={{ background: hex }}
              onClick={() => onChange(value === name ? hex : name)}
            />
          </Tooltip>
        ))}
        <NameIt state={state} hex={seen} onNamed={onChange} />
      </fieldset>
    </div>
  );
}

/** Gives a colour a name. */
function NameIt({ state, hex, onNamed }: { state: View; hex: string; onNamed: (colour: string) => void }) {
  const { edit } = useChange(state);
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const typedName = name.trim().replaceAll(".", "");
  const keep = () => {
    if (!typedName) return;
    edit({ op: "set_swatch", name: typedName, colour: hex });
    onNamed(`swatch ${typedName}`);
    setOpen(false);
    setName("");
  };
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" withArrow shadow="md" trapFocus>
      <Popover.Target>
        <Tooltip label={t("Save as swatch")}>
          <button type="button" aria-label={t("Save as swatch")} data-add="" onClick={() => setOpen(!open)}>
            +
          </button>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          className={css.naming}
          onSubmit={(event) => {
            event.preventDefault();
            event.stopPropagation();
            keep();
          }}
        >
          <TextInput
            size="xs"
            label={t("Name of the colour")}
            maxLength={40}
            data-autofocus
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Button size="compact-xs" type="submit" disabled={!typedName}>
            {t("Save")}
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}

/** The swatches there are: changed here, they change wherever they are used. */
export function Swatches({ state }: { state: View }) {
  const { edit } = useChange(state);
  const swatches = Object.entries(state.layout.swatches ?? {});
  if (!swatches.length) return null;
  return (
    <div className={css.swatches}>
      {swatches.map(([name, hex]) => (
        <div key={name}>
          <ColourInput
            label={name}
            value={hex}
            onChange={(colour) => edit({ op: "set_swatch", name, colour })}
          />
          <Tooltip label={t("Delete swatch (colours stay)")}>
            <Button
              size="compact-xs"
              variant="subtle"
              color="gray"
              aria-label={t("Delete swatch {name}", { name })}
              onClick={() => edit({ op: "set_swatch", name, colour: null })}
            >
              ×
            </Button>
          </Tooltip>
        </div>
      ))}
    </div>
  );
}
