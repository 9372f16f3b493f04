import { Button, Checkbox } from "@mantine/core";
import type { Text } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { ColourField } from "../ui/colour/ColourField";
import { Dial } from "../ui/Dial";
import { t } from "../words";
import { FontChooser } from "./FontChooser";
import { familyOf, useFamilies, WEIGHTS } from "./families";
import css from "./lettering.module.css";
import { asStyled, type SetFields, STYLED, StylePart } from "./StylePart";

/** How the words of a box look. */
export function LetteringPart({ state, text }: { state: View; text: Text }) {
  const { edit } = useChange(state);
  const box = asStyled(state, text);
  const change = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_fields", layers: [text.id], fields, expect: {} }, { gesture });
  // What a style says and the box says otherwise, the box departs in.
  const set: SetFields = (fields, gesture) => {
    const departs = Object.keys(fields).filter((name) => (STYLED as readonly string[]).includes(name));
    const departing = [...new Set([...(text.own ?? []), ...departs])];
    change(text.style && departs.length ? { ...fields, own: departing } : fields, gesture);
  };
  return (
    <>
      <StylePart state={state} text={text} box={box} change={change} />
      <FontPart state={state} box={box} set={set} />
      <ColourField
        state={state}
        bare
        label={t("Colour of the words")}
        value={box.colour ?? "#222222"}
        onChange={(colour) => set({ colour })}
      />
      <SizePart box={box} set={set} />
      <Dial
        label={t("Line spacing")}
        min={0.8}
        max={2.5}
        step={0.05}
        of="Text.leading"
        value={box.leading ?? 1.25}
        onKeep={(leading, g) => set({ leading }, g)}
      />
      <Dial
        label={t("Tracking")}
        min={-50}
        max={400}
        step={5}
        unit="‰"
        of="Text.tracking"
        value={box.tracking ?? 0}
        onKeep={(tracking, g) => set({ tracking }, g)}
      />
      <div className={css.pair}>
        <Choice
          label={t("Across")}
          value={box.align ?? "centre"}
          data={["left", "centre", "right", "justified"]}
          onChange={(align) => set({ align })}
        />
        <Choice
          label={t("Down")}
          value={box.stand ?? "middle"}
          data={["top", "middle", "bottom"]}
          onChange={(stand) => set({ stand })}
        />
        <Choice
          label={t("Letters")}
          value={box.caps ?? "typed"}
          data={[
            { value: "typed", label: t("as typed") },
            { value: "capitals", label: t("capitals") },
            { value: "small", label: t("small capitals") },
          ]}
          onChange={(caps) => set({ caps })}
        />
      </div>
      <MorePart state={state} box={box} set={set} />
    </>
  );
}

/** A family, its weight, its slant. */
function FontPart({ state, box, set }: { state: View; box: Text; set: SetFields }) {
  const families = useFamilies();
  const family = families.data?.find((one) => one.name === familyOf(box.font ?? "Lato"));
  const weights = family?.weights ?? [400];
  return (
    <>
      <FontChooser
        state={state}
        value={box.font ?? "Lato"}
        onChange={(font) => set({ font, weight: null, slant: false })}
      />
      <div className={css.pair}>
        <Choice
          label={t("Weight")}
          value={String(box.weight ?? 0)}
          data={[
            { value: "0", label: t("Regular") },
            ...weights.map((weight) => ({ value: String(weight), label: WEIGHTS[weight] ?? String(weight) })),
          ]}
          onChange={(weight) => set({ weight: Number(weight) || null })}
        />
        <Checkbox
          size="xs"
          label={t("Italic")}
          checked={!!box.slant}
          onChange={(event) => set({ slant: event.currentTarget.checked })}
        />
      </div>
    </>
  );
}

/** One size, or the largest between two at which the words fit. */
function SizePart({ box, set }: { box: Text; set: SetFields }) {
  const { fit_pt } = box;
  const size = box.size_pt ?? 12;
  return (
    <>
      {fit_pt ? (
        <>
          <Dial
            label={t("At least")}
            min={4}
            max={120}
            step={0.5}
            unit="pt"
            of="Text.size_pt"
            value={fit_pt[0] ?? 6}
            onKeep={(least, g) => set({ fit_pt: [least, Math.max(least, fit_pt[1] ?? least)] }, g)}
          />
          <Dial
            label={t("At most")}
            min={4}
            max={120}
            step={0.5}
            unit="pt"
            of="Text.size_pt"
            value={fit_pt[1] ?? size}
            onKeep={(most, g) => set({ fit_pt: [Math.min(most, fit_pt[0] ?? most), most] }, g)}
          />
        </>
      ) : (
        <Dial
          label={t("Size")}
          min={4}
          max={120}
          step={0.5}
          unit="pt"
          of="Text.size_pt"
          value={size}
          onKeep={(size_pt, g) => set({ size_pt }, g)}
        />
      )}
      <Checkbox
        size="xs"
        mt={6}
        label={t("Fit text to box")}
        checked={!!fit_pt}
        onChange={(event) =>
          set({ fit_pt: event.currentTarget.checked ? [Math.min(6, size), Math.max(size, 2 * size)] : null })
        }
      />
    </>
  );
}

/** What is wanted seldom: paragraphs, inset, an arc, a line round letters, a shadow, whose photo the words speak of. */
function MorePart({ state, box, set }: { state: View; box: Text; set: SetFields }) {
  return (
    <details className={css.more}>
      <summary>{t("Paragraphs, arc, line, shadow")}</summary>
      <Dial
        label={t("Paragraph spacing")}
        min={0}
        max={36}
        step={0.5}
        unit="pt"
        of="Text.paragraph_pt"
        value={box.paragraph_pt ?? 0}
        onKeep={(paragraph_pt, g) => set({ paragraph_pt }, g)}
      />
      <Dial
        label={t("Inset")}
        min={0}
        max={20}
        step={0.5}
        unit="mm"
        of="Text.inset_mm"
        value={box.inset_mm ?? 0}
        onKeep={(inset_mm, g) => set({ inset_mm }, g)}
      />
      <Dial
        label={t("Arc")}
        min={-360}
        max={360}
        step={1}
        unit="°"
        of="Text.bend_deg"
        value={box.bend_deg ?? 0}
        onKeep={(bend_deg, g) => set({ bend_deg }, g)}
      />
      {box.along && (
        <Button size="compact-xs" variant="default" mt={4} onClick={() => set({ along: "" })}>
          {t("Remove from line")}
        </Button>
      )}
      <Checkbox
        size="xs"
        mt={8}
        label={t("Outline letters")}
        checked={!!box.line}
        onChange={(event) =>
          set({ line: event.currentTarget.checked ? { width_mm: 0.3, colour: "#ffffff" } : null })
        }
      />
      {box.line && (
        <>
          <Dial
            label={t("Width")}
            min={0.1}
            max={3}
            step={0.1}
            unit="mm"
            of="WordLine.width_mm"
            value={box.line.width_mm ?? 0.3}
            onKeep={(width, g) => set({ "line.width_mm": width }, g)}
          />
          <ColourField
            state={state}
            bare
            label={t("Colour of the line")}
            value={box.line.colour ?? "#ffffff"}
            onChange={(colour) => set({ "line.colour": colour })}
          />
        </>
      )}
      <Checkbox
        size="xs"
        mt={8}
        label={t("Shadow")}
        checked={!!box.shadow}
        onChange={(event) =>
          set({
            shadow: event.currentTarget.checked
              ? { distance_mm: 0.6, blur_mm: 0.8, opacity: 0.5, colour: "#000000" }
              : null,
          })
        }
      />
      {box.shadow && (
        <>
          <Dial
            label={t("Distance")}
            min={0}
            max={5}
            step={0.1}
            unit="mm"
            of="WordShadow.distance_mm"
            value={box.shadow.distance_mm ?? 0.6}
            onKeep={(distance, g) => set({ "shadow.distance_mm": distance }, g)}
          />
          <Dial
            label={t("Softness")}
            min={0}
            max={5}
            step={0.1}
            unit="mm"
            of="WordShadow.blur_mm"
            value={box.shadow.blur_mm ?? 0.8}
            onKeep={(blur, g) => set({ "shadow.blur_mm": blur }, g)}
          />
          <Dial
            label={t("Opacity")}
            min={0}
            max={100}
            per={100}
            unit="%"
            of="WordShadow.opacity"
            value={Math.round((box.shadow.opacity ?? 0.5) * 100)}
            onKeep={(share, g) => set({ "shadow.opacity": share / 100 }, g)}
          />
        </>
      )}
      <div className={css.pair}>
        <Choice
          label={t("Refers to")}
          value={box.photo_of ?? ""}
          data={[
            { value: "", label: t("the first photo") },
            ...state.rows.map((row) => ({
              value: row.opening,
              label: t("the photo of {number}", { number: row.number }),
            })),
          ]}
          onChange={(photo_of) => set({ photo_of })}
        />
      </div>
    </details>
  );
}
