import { Button, Popover, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Text, TextStyle } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { t } from "../words";
import css from "./lettering.module.css";

export type SetFields = (fields: Record<string, unknown>, gesture?: string) => void;

/** What a named style says of a box. */
export const STYLED = [
  "font", "size_pt", "leading", "colour", "align", "weight", "slant", "tracking", "caps", "paragraph_pt",
] as const; // biome-ignore format: a list

/** A box as its style says, but for what it departs from it in. */
export function asStyled(state: View, text: Text): Text {
  const style = state.layout.styles?.[text.style ?? ""];
  if (!style) return text;
  const departing = new Set(text.own ?? []);
  const fields = STYLED.flatMap((name) => (departing.has(name) ? [] : [[name, style[name]]]));
  return { ...text, ...Object.fromEntries(fields) };
}

/** Named styles: chosen, changed everywhere at once, named anew, taken away. */
export function StylePart({
  state,
  text,
  box,
  change,
}: {
  state: View;
  text: Text;
  box: Text;
  change: SetFields;
}) {
  const { edit } = useChange(state);
  const styles = Object.keys(state.layout.styles ?? {}).sort();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState("");
  const typedName = name.trim().replaceAll(".", "");
  const look = () =>
    Object.fromEntries(STYLED.map((field) => [field, box[field] ?? PLAIN[field]])) as unknown as TextStyle;
  const keep = () => {
    if (!typedName) return;
    edit({ op: "set_style", name: typedName, style: look() });
    change({ style: typedName, own: [] });
    setNaming(false);
    setName("");
  };
  const departs = (text.own ?? []).length > 0;
  return (
    <fieldset className={css.styles} aria-label={t("Style")}>
      <Choice
        label={t("Style")}
        value={text.style ?? ""}
        data={[
          { value: "", label: t("none") },
          ...styles.map((style) => ({
            value: style,
            label: style === text.style && departs ? t("{style}, changed", { style }) : style,
          })),
        ]}
        onChange={(style) =>
          change(
            style
              ? { style, own: [] }
              : { ...Object.fromEntries(STYLED.map((f) => [f, box[f] ?? PLAIN[f]])), style: "", own: [] },
          )
        }
      />
      <Popover opened={naming} onChange={setNaming} position="left-start" shadow="md" trapFocus>
        <Popover.Target>
          <Button size="compact-xs" variant="default" onClick={() => setNaming(!naming)}>
            {t("Save as style…")}
          </Button>
        </Popover.Target>
        <Popover.Dropdown>
          <form
            onSubmit={(event) => {
              event.preventDefault();
              keep();
            }}
          >
            <TextInput
              size="xs"
              label={t("Name of the style")}
              maxLength={40}
              value={name}
              data-autofocus
              onChange={(event) => setName(event.currentTarget.value)}
            />
            <Button type="submit" size="compact-xs" mt={6} disabled={!typedName}>
              {t("Save")}
            </Button>
          </form>
        </Popover.Dropdown>
      </Popover>
      {text.style && departs && (
        <>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              edit({ op: "set_style", name: text.style ?? "", style: look() });
              change({ own: [] });
            }}
          >
            {t("Make {style} look so everywhere", { style: text.style })}
          </Button>
          <Button size="compact-xs" variant="subtle" onClick={() => change({ own: [] })}>
            {t("Reset to style")}
          </Button>
        </>
      )}
      {text.style && !departs && (
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => edit({ op: "set_style", name: text.style ?? "", style: null })}
        >
          {t("Delete style")}
        </Button>
      )}
    </fieldset>
  );
}

/** What a box says that says nothing. */
const PLAIN = {
  font: "Lato", size_pt: 12, leading: 1.25, colour: "#222222", align: "centre", weight: null, slant: false, tracking: 0,
  caps: "typed", paragraph_pt: 0,
} as const; // biome-ignore format: a table
