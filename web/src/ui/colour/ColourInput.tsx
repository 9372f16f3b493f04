import {
  ActionIcon,
  ColorPicker,
  convertHsvaTo,
  isColorValid,
  Popover,
  parseColor,
  TextInput,
} from "@mantine/core";
import { useEyeDropper } from "@mantine/hooks";
import IconColorPicker from "@tabler/icons-react/icons/IconColorPicker";
import { useState } from "react";
import { t } from "../../words";
import { useTyped } from "../typed";
import css from "./colour.module.css";

/** Any way of writing a colour as #rrggbb; undefined where it is none. */
const hexOf = (text: string): string | undefined => {
  const name = /^[0-9a-f]{3}([0-9a-f]{3})?$/i.test(text) ? `#${text}` : text;
  return isColorValid(name) ? convertHsvaTo("hex", parseColor(name)).toLowerCase() : undefined;
};

/**
 * A colour, typed or chosen. What it is chosen from opens by a button alone, beside the field and over no other, and closes on
 * Enter, Escape and a press elsewhere.
 */
export function ColourInput({
  label,
  bare,
  value,
  placeholder,
  size = "xs",
  onChange,
}: {
  label: string;
  /** Without its label seen. */
  bare?: boolean;
  /** As #rrggbb; "" for none. */
  value: string;
  placeholder?: string;
  size?: "xs" | "sm";
  onChange: (colour: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const [slid, setSlid] = useState<string>();
  const { supported, open: pickFromScreen } = useEyeDropper();
  const keep = (text: string) => {
    const hex = hexOf(text);
    if (hex && hex !== value) onChange(hex);
  };
  const { typed, field } = useTyped(value, keep);
  const shown = slid ?? hexOf(typed ?? value) ?? value;
  return (
    <TextInput
      {...field}
      size={size}
      label={bare ? undefined : label}
      aria-label={bare ? label : undefined}
      placeholder={placeholder}
      spellCheck={false}
      autoComplete="off"
      value={slid ?? field.value}
      leftSectionPointerEvents="all"
      leftSection={
        <Popover
          opened={open}
          onChange={setOpen}
          position="left-start"
          shadow="md"
          trapFocus
          returnFocus
          closeOnEscape
          middlewares={{
            shift: true,
            flip: { crossAxis: false, fallbackPlacements: ["right-start", "top-start"] },
          }}
        >
          <Popover.Target>
            <button
              type="button"
              className={css.chosen}
              style={{ background: shown || "transparent" }}
              aria-label={t("{label}: choose", { label })}
              onClick={() => setOpen(!open)}
            />
          </Popover.Target>
          <Popover.Dropdown
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              event.stopPropagation();
              setOpen(false);
            }}
          >
            <ColorPicker
              format="hex"
              size="sm"
              saturationLabel={t("{label}: saturation and lightness", { label })}
              hueLabel={t("{label}: hue", { label })}
              value={shown || "#808080"}
              onChange={setSlid}
              onChangeEnd={(colour) => {
                setSlid(undefined);
                keep(colour);
              }}
            />
          </Popover.Dropdown>
        </Popover>
      }
      rightSection={
        supported && (
          <ActionIcon
            size={22}
            variant="subtle"
            color="gray"
            aria-label={t("{label}: pick it from the screen", { label })}
            onClick={() =>
              pickFromScreen().then(
                (picked) => picked && keep(picked.sRGBHex),
                () => {},
              )
            }
          >
            <IconColorPicker size={14} />
          </ActionIcon>
        )
      }
    />
  );
}
