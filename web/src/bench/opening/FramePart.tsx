import { Button, SegmentedControl } from "@mantine/core";
import { useRef } from "react";
import { type AssetKept, answer, api, type Opening, sent } from "../../api/client";
import { useChange } from "../../editing/changes";
import { useKept } from "../../editing/kept";
import type { View } from "../../editing/view";
import { Choice } from "../../ui/Choice";
import { Dial } from "../../ui/Dial";
import { Tick } from "../../ui/Tick";
import { underWay } from "../../ui/underWay";
import { t } from "../../words";
import css from "../side.module.css";
import { frameEdits } from "./frameEdits";

/** How each mask that was brought in here can be read. */
const ways = new Map<string, AssetKept["traced"]>();

const BLENDS = [
  "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light",
  "difference", "exclusion", "hue", "saturation", "color", "luminosity",
] as const; // biome-ignore format: a list

/** What frames openings: border, mat, shadow, opacity and blend, as the first has them; of one alone its outline or mask. */
export function FramePart({ state, layers }: { state: View; layers: readonly Opening[] }) {
  const [layer] = layers;
  return layer ? <Frame state={state} layer={layer} layers={layers} /> : null;
}

function Frame({ state, layer, layers }: { state: View; layer: Opening; layers: readonly Opening[] }) {
  const isOne = layers.length === 1;
  const { edit } = useChange(state);
  const file = useRef<HTMLInputElement>(null);
  const set = (fields: Record<string, unknown>, gesture = `frame-${crypto.randomUUID()}`) => {
    for (const { ids, fields: own } of frameEdits(layer, layers, fields))
      edit({ op: "set_fields", layers: ids, fields: own, expect: {} }, { gesture });
  };
  const { border, mat, shadow, outline } = layer;
  const row = state.rows.find((entry) => entry.opening === layer.id);
  const size = {
    width_mm: Math.round((row?.width_mm ?? 100) * 1000) / 1000,
    height_mm: Math.round((row?.height_mm ?? 100) * 1000) / 1000,
  };
  const shaped = (kind: string) => {
    if (kind === "rectangle") set({ outline: { kind, ...size, radius_mm: 0 } });
    if (kind === "ellipse") set({ outline: { kind, ...size } });
    if (kind === "mask") file.current?.click();
  };
  const mask = async (picked: File | undefined) => {
    if (!picked) return;
    await underWay(async () => {
      const { name, traced, kind } = await sent<AssetKept>("/api/assets", picked);
      if (kind === "overlay")
        throw new Error(
          t("{name} cannot be a mask: nothing in it is hidden, or its outline is too fine.", {
            name: picked.name,
          }),
        );
      if (kind !== "mask")
        throw new Error(t("{name} is no picture. Choose a PNG as a mask.", { name: picked.name }));
      // A mask without transparency is read by its luminance.
      const by = traced?.alpha ? "alpha" : "luminance";
      set({ outline: { kind: "mask", ...size, asset: name, by, traced: traced?.[by] } });
      ways.set(name, traced);
    });
  };
  const readBy = async (by: "alpha" | "luminance") => {
    if (outline.kind !== "mask") return;
    await underWay(async () => {
      const known =
        ways.get(outline.asset) ??
        (
          await answer<AssetKept>(
            api.GET("/api/assets/{name}", { params: { path: { name: outline.asset } } }),
          )
        ).traced;
      ways.set(outline.asset, known);
      if (!known?.[by]) throw new Error(t("This mask shows nothing when it is read by {by}.", { by }));
      set({ outline: { ...outline, by, traced: known[by] } });
    });
  };
  return (
    <>
      {isOne && (
        <div className={css.tools}>
          <Choice
            label={t("Outline")}
            value={outline.kind}
            onChange={shaped}
            data={[
              { value: "rectangle", label: t("rectangle") },
              { value: "ellipse", label: t("ellipse") },
              ...(outline.kind === "path" ? [{ value: "path", label: t("drawn path") }] : []),
              { value: "mask", label: t("mask picture…") },
            ]}
          />
          {outline.kind === "mask" && (
            <>
              <Choice
                label={t("read by")}
                value={outline.by}
                onChange={(by) => readBy(by as "alpha")}
                data={["alpha", "luminance"]}
              />
              <Button size="compact-xs" variant="default" onClick={() => file.current?.click()}>
                {t("Another")}
              </Button>
            </>
          )}
          <input
            ref={file}
            type="file"
            accept="image/png"
            hidden
            data-testid="choose-mask"
            onChange={(event) => {
              mask(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
        </div>
      )}
      {isOne && outline.kind === "rectangle" && (
        <Dial
          label={t("Rounded")}
          of="Rectangle.radius_mm"
          unit="mm"
          min={0}
          max={Math.round(Math.min(size.width_mm, size.height_mm) / 2)}
          step={0.5}
          value={outline.radius_mm ?? 0}
          onKeep={(radius_mm, gesture) => set({ "outline.radius_mm": radius_mm }, gesture)}
        />
      )}
      <Part
        name="Border"
        on={!!border}
        onChange={(on) => set({ border: on ? { width_mm: 3, colour: "#ffffff", side: "inside" } : null })}
      >
        {border && (
          <>
            <div className={css.tools}>
              <Colour
                name="Border colour"
                value={border.colour ?? "#ffffff"}
                onKeep={(colour, g) => set({ "border.colour": colour }, g)}
              />
              <SegmentedControl
                size="xs"
                aria-label={t("Side of the border")}
                value={border.side ?? "inside"}
                onChange={(side) => set({ "border.side": side as "inside" })}
                data={["inside", "centred", "outside"]}
              />
            </div>
            <Dial
              label={t("Width")}
              unit="mm"
              min={0.1}
              of="Border.width_mm"
              max={30}
              step={0.1}
              value={border.width_mm}
              onKeep={(width_mm, g) => set({ "border.width_mm": width_mm }, g)}
            />
          </>
        )}
      </Part>
      <Part
        name="Mat"
        on={!!mat}
        onChange={(on) => set({ mat: on ? { width_mm: 8, colour: "#f6f4ee", bevel_mm: 0.8 } : null })}
      >
        {mat && (
          <>
            <div className={css.tools}>
              <Colour
                name="Mat colour"
                value={mat.colour ?? "#f6f4ee"}
                onKeep={(colour, g) => set({ "mat.colour": colour }, g)}
              />
            </div>
            <Dial
              label={t("Width")}
              unit="mm"
              min={0.5}
              of="Mat.width_mm"
              max={60}
              step={0.5}
              value={mat.width_mm}
              onKeep={(width_mm, g) => set({ "mat.width_mm": width_mm }, g)}
            />
            <Dial
              label={t("Bevel")}
              of="Mat.bevel_mm"
              unit="mm"
              min={0}
              max={4}
              step={0.1}
              value={mat.bevel_mm ?? 0.8}
              onKeep={(bevel_mm, g) => set({ "mat.bevel_mm": bevel_mm }, g)}
            />
          </>
        )}
      </Part>
      <Part
        name="Shadow"
        on={!!shadow}
        onChange={(on) =>
          set({
            shadow: on ? { kind: "drop", distance_mm: 2, blur_mm: 4, opacity: 0.4, colour: "#000000" } : null,
          })
        }
      >
        {shadow && (
          <>
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label={t("Kind of shadow")}
              value={shadow.kind ?? "drop"}
              onChange={(kind) => set({ "shadow.kind": kind as "drop" })}
              data={[
                { value: "drop", label: t("Drop") },
                { value: "contact", label: t("Contact") },
                { value: "lifted", label: t("Lifted corners") },
              ]}
            />
            {shadow.kind !== "contact" && (
              <Dial
                label={t("Distance")}
                of="Shadow.distance_mm"
                unit="mm"
                min={0}
                max={20}
                step={0.1}
                value={shadow.distance_mm ?? 1.5}
                onKeep={(distance_mm, g) => set({ "shadow.distance_mm": distance_mm }, g)}
              />
            )}
            <Dial
              label={t("Softness")}
              of="Shadow.blur_mm"
              unit="mm"
              min={0}
              max={20}
              step={0.1}
              value={shadow.blur_mm ?? 2}
              onKeep={(blur_mm, g) => set({ "shadow.blur_mm": blur_mm }, g)}
            />
            <Dial
              label={t("Strength")}
              unit="%"
              min={0}
              max={100}
              value={Math.round((shadow.opacity ?? 0.4) * 100)}
              onKeep={(v, g) => set({ "shadow.opacity": v / 100 }, g)}
            />
          </>
        )}
      </Part>
      <div className={css.group}>
        <Dial
          label={t("Opacity")}
          unit="%"
          min={0}
          max={100}
          value={Math.round((layer.opacity ?? 1) * 100)}
          onKeep={(v, g) => set({ opacity: v / 100 }, g)}
        />
        <Choice
          label={t("Blend")}
          value={layer.blend}
          onChange={(blend) => set({ blend })}
          data={[...BLENDS]}
        />
      </div>
    </>
  );
}

/** A colour well: one visit to its picker is one step of undo. */
function Colour({
  name,
  value,
  onKeep,
}: {
  name: string;
  value: string;
  onKeep: (value: string, gesture: string) => void;
}) {
  const { shown, change } = useKept(value, onKeep);
  return (
    <input
      type="color"
      className={css.well}
      aria-label={name}
      title={name}
      value={shown}
      onChange={(event) => change(event.target.value)}
    />
  );
}

/** A group that is there or not. */
export function Part({
  name,
  on,
  onChange,
  children,
}: {
  name: string;
  on: boolean;
  onChange: (on: boolean) => void;
  children?: React.ReactNode;
}) {
  return (
    <div className={css.group}>
      <Tick on={on} onChange={onChange}>
        <strong>{name}</strong>
      </Tick>
      {on && children}
    </div>
  );
}
