import { Button, Checkbox } from "@mantine/core";
import { useRef } from "react";
import { type AssetKept, sent } from "../api/client";
import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { ColourField } from "../ui/colour/ColourField";
import { Dial } from "../ui/Dial";
import { underWay } from "../ui/underWay";
import { t } from "../words";
import type { Layer } from "./layers";
import css from "./workshop.module.css";

type Painted = Extract<Layer, { kind: "fill" | "background" | "ornament" }>;
type Set = (fields: Record<string, unknown>, gesture?: string) => void;

const KINDS = ["paper", "linen", "wood", "sand", "dots", "stripes"];
/** How wide a thread, a grain, a dot is as each begins, mm. */
const BEGINS: Record<string, [scale: number, colour: string]> = {
  paper: [0.7, "#8a7c63"],
  linen: [0.9, "#8a7c63"],
  wood: [5, "#6d4423"],
  sand: [0.5, "#8a6a3c"],
  dots: [6, "#8fa9b8"],
  stripes: [8, "#8fa9b8"],
};

/** Stops at equal ways from each other. */
const spaced = (stops: readonly ({ colour: string } | undefined)[]) =>
  stops.map((stop, n) => ({ at: n / (stops.length - 1), colour: stop?.colour ?? "#ffffff" }));

/** What a background, a shape or an ornament is painted with. */
export function PaintPart({ state, layer }: { state: View; layer: Painted }) {
  const { edit } = useChange(state);
  const set: Set = (fields, gesture) =>
    edit({ op: "set_fields", layers: [layer.id], fields, expect: {} }, { gesture });
  const picture = layer.kind === "background" && !!layer.asset;
  return (
    <div className={side.group}>
      {layer.kind !== "ornament" && !picture && <GradientPart state={state} layer={layer} set={set} />}
      {layer.kind === "ornament" && (
        <>
          <ColourField
            state={state}
            label={t("Colour")}
            value={layer.colour ?? "#222222"}
            onChange={(colour) => set({ colour })}
          />
          <Checkbox
            size="xs"
            mt={6}
            label={t("Shows the studio's logo, where its card has one")}
            checked={!!layer.logo}
            onChange={(event) => set({ logo: event.currentTarget.checked })}
          />
        </>
      )}
      {layer.kind !== "ornament" && !picture && <TexturePart state={state} layer={layer} set={set} />}
      {layer.kind === "background" && <PicturePart on={picture} set={set} />}
      {layer.kind !== "ornament" && <ShiftPart layer={layer} set={set} />}
    </div>
  );
}

type Ground = Extract<Layer, { kind: "fill" | "background" }>;

function GradientPart({ state, layer, set }: { state: View; layer: Ground; set: Set }) {
  const { gradient } = layer;
  const stops = gradient?.stops ?? [];
  return (
    <>
      {!gradient && (
        <ColourField
          state={state}
          label={t("Colour")}
          value={layer.colour ?? "#ffffff"}
          onChange={(colour) => set({ colour })}
        />
      )}
      <Checkbox
        size="xs"
        mt={6}
        label={t("A gradient")}
        checked={!!gradient}
        onChange={(event) =>
          set({
            gradient: event.currentTarget.checked
              ? {
                  turn_deg: 90,
                  stops: [
                    { at: 0, colour: layer.colour ?? "#ffffff" },
                    { at: 1, colour: "#8fa9b8" },
                  ],
                }
              : null,
          })
        }
      />
      {gradient && (
        <>
          <div className={css.row}>
            <Choice
              bare
              label={t("Gradient type")}
              value={gradient.shape ?? "linear"}
              data={[
                { value: "linear", label: t("straight") },
                { value: "radial", label: t("radial") },
              ]}
              onChange={(shape) => set({ "gradient.shape": shape })}
            />
            <Button
              size="compact-xs"
              variant="default"
              disabled={stops.length >= 16}
              onClick={() => set({ "gradient.stops": spaced([...stops, stops[stops.length - 1]]) })}
            >
              {t("Add colour")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={stops.length <= 2}
              onClick={() => set({ "gradient.stops": spaced(stops.slice(0, -1)) })}
            >
              {t("Remove colour")}
            </Button>
          </div>
          {stops.map((stop, n) => (
            <ColourField
              // biome-ignore lint/suspicious/noArrayIndexKey: stops have no other name
              key={n}
              state={state}
              bare
              label={t("Colour {number} of the gradient", { number: n + 1 })}
              value={stop.colour}
              onChange={(colour) =>
                set({ "gradient.stops": stops.map((one, index) => (index === n ? { ...one, colour } : one)) })
              }
            />
          ))}
          {gradient.shape !== "radial" && (
            <Dial
              label={t("Turn")}
              min={-180}
              max={180}
              unit="°"
              value={gradient.turn_deg ?? 0}
              onKeep={(turn, g) => set({ "gradient.turn_deg": turn }, g)}
            />
          )}
        </>
      )}
    </>
  );
}

function TexturePart({ state, layer, set }: { state: View; layer: Ground; set: Set }) {
  const { texture } = layer;
  const choose = (kind: string) => {
    const [scale_mm, colour] = BEGINS[kind] ?? [1, "#8a7c63"];
    set({
      texture:
        kind === "none"
          ? null
          : {
              strength: 0.4,
              turn_deg: 0,
              seed: 0,
              ...texture,
              kind,
              scale_mm,
              colour: texture?.colour ?? colour,
            },
    });
  };
  return (
    <>
      <Choice
        label={t("Texture")}
        value={texture?.kind ?? "none"}
        data={["none", ...KINDS]}
        onChange={choose}
      />
      {texture && (
        <>
          <ColourField
            state={state}
            bare
            label={t("Colour of the texture")}
            value={texture.colour ?? "#8a7c63"}
            onChange={(colour) => set({ "texture.colour": colour })}
          />
          <Dial
            label={t("Strength")}
            min={0}
            max={100}
            per={100}
            unit="%"
            value={Math.round((texture.strength ?? 0.4) * 100)}
            onKeep={(value, g) => set({ "texture.strength": value / 100 }, g)}
          />
          <Dial
            label={t("Size")}
            min={0.2}
            max={texture.kind === "dots" || texture.kind === "stripes" ? 60 : 12}
            step={0.1}
            unit="mm"
            of="Texture.scale_mm"
            value={texture.scale_mm ?? 1}
            onKeep={(mm, g) => set({ "texture.scale_mm": mm }, g)}
          />
          <Dial
            label={t("Turn")}
            min={-180}
            max={180}
            unit="°"
            value={texture.turn_deg ?? 0}
            onKeep={(turn, g) => set({ "texture.turn_deg": turn }, g)}
          />
          {!["dots", "stripes"].includes(texture.kind ?? "") && (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => set({ "texture.seed": ((texture.seed ?? 0) + 1) % 10_000 })}
            >
              {t("Shift texture")}
            </Button>
          )}
        </>
      )}
    </>
  );
}

function PicturePart({ on, set }: { on: boolean; set: Set }) {
  const file = useRef<HTMLInputElement>(null);
  const take = async (picked: File | undefined) => {
    if (!picked) return;
    await underWay(async () => {
      const { name, kind } = await sent<AssetKept>("/api/assets", picked);
      if (kind === "drawing")
        throw new Error(t("{name} is a drawing. Choose a JPEG or a PNG.", { name: picked.name }));
      set({ asset: name });
    });
    if (file.current) file.current.value = "";
  };
  return (
    <div className={css.row}>
      <input
        ref={file}
        type="file"
        accept=".jpg,.jpeg,.png"
        hidden
        data-testid="background-file"
        onChange={(event) => take(event.target.files?.[0])}
      />
      <Button size="compact-xs" variant="default" onClick={() => file.current?.click()}>
        {on ? t("Another picture…") : t("A picture…")}
      </Button>
      {on && (
        <Button size="compact-xs" variant="default" onClick={() => set({ asset: null })}>
          {t("Remove picture")}
        </Button>
      )}
    </div>
  );
}

function ShiftPart({ layer, set }: { layer: Ground; set: Set }) {
  const { shift } = layer;
  return (
    <>
      <Checkbox
        size="xs"
        mt={6}
        label={t("Recolour")}
        checked={!!shift}
        onChange={(event) => set({ shift: event.currentTarget.checked ? {} : null })}
      />
      {shift && (
        <>
          <Dial
            label={t("Hue")}
            min={-180}
            max={180}
            unit="°"
            value={shift.hue_deg ?? 0}
            onKeep={(hue, g) => set({ "shift.hue_deg": hue }, g)}
          />
          <Dial
            label={t("Saturation")}
            min={0}
            max={200}
            per={100}
            unit="%"
            value={Math.round((shift.saturation ?? 1) * 100)}
            onKeep={(value, g) => set({ "shift.saturation": value / 100 }, g)}
          />
          <Dial
            label={t("Lightness")}
            min={-100}
            max={100}
            per={100}
            unit="%"
            value={Math.round((shift.lightness ?? 0) * 100)}
            onKeep={(value, g) => set({ "shift.lightness": value / 100 }, g)}
          />
        </>
      )}
    </>
  );
}
