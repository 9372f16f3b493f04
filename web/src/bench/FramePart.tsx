import { Button, SegmentedControl } from "@mantine/core";
import { useRef } from "react";
import type { JobState, Opening } from "../api/client";
import { complain, useChange } from "../api/queries";
import { Dial } from "../ui/Dial";
import { useKept } from "../ui/kept";
import { Tick } from "../ui/Tick";
import { altering } from "./layers";
import css from "./side.module.css";

const BLENDS = [
  "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light",
  "difference", "exclusion", "hue", "saturation", "color", "luminosity",
] as const; // biome-ignore format: a list

/** What frames the opening: its outline or mask, border, mat, shadow, opacity and blend. */
export function FramePart({ state, layer }: { state: JobState; layer: Opening }) {
  const { edit } = useChange(state.id);
  const file = useRef<HTMLInputElement>(null);
  const dress = (part: Partial<Opening>, gesture?: string) =>
    edit.mutate({ edit: altering(layer, part), gesture });
  const within = <K extends "border" | "mat" | "shadow">(
    name: K,
    part: Partial<NonNullable<Opening[K]>>,
    gesture?: string,
  ) =>
    edit.mutate({
      edit: altering(layer, (now) => (now[name] ? { [name]: { ...now[name], ...part } } : {})),
      gesture,
    });
  const { border, mat, shadow, outline } = layer;
  const row = state.ledger.find((entry) => entry.opening === layer.id);
  const size = {
    width_mm: Math.round((row?.width_mm ?? 100) * 1000) / 1000,
    height_mm: Math.round((row?.height_mm ?? 100) * 1000) / 1000,
  };
  const shaped = (kind: string) => {
    if (kind === "rectangle") dress({ outline: { kind, ...size, radius_mm: 0 } });
    if (kind === "ellipse") dress({ outline: { kind, ...size } });
    if (kind === "mask") file.current?.click();
  };
  const mask = async (picked: File | undefined) => {
    if (!picked) return;
    if (picked.size > 1_000_000) {
      complain(new Error(`${picked.name} is larger than 1 MB. Make the mask smaller.`));
      return;
    }
    const bytes = new Uint8Array(await picked.arrayBuffer());
    let text = "";
    for (const byte of bytes) text += String.fromCharCode(byte);
    const png = btoa(text);
    const outline = { kind: "mask" as const, ...size, png };
    // A mask without transparency is read by its luminance.
    dress({ outline: { ...outline, by: hasAlpha(bytes) ? "alpha" : "luminance" } });
  };
  return (
    <>
      <div className={css.tools}>
        <label className={css.choice}>
          Outline
          <select value={outline.kind} onChange={(event) => shaped(event.target.value)}>
            <option value="rectangle">rectangle</option>
            <option value="ellipse">ellipse</option>
            {outline.kind === "path" && <option value="path">drawn path</option>}
            <option value="mask">mask picture…</option>
          </select>
        </label>
        {outline.kind === "mask" && (
          <>
            <label className={css.choice}>
              read by
              <select
                value={outline.by ?? "alpha"}
                onChange={(event) =>
                  dress({ outline: { ...outline, by: event.target.value as "alpha" | "luminance" } })
                }
              >
                <option>alpha</option>
                <option>luminance</option>
              </select>
            </label>
            <Button size="compact-xs" variant="default" onClick={() => file.current?.click()}>
              Another
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
      {outline.kind === "rectangle" && (
        <Dial
          label="Rounded"
          unit="mm"
          min={0}
          max={Math.round(Math.min(size.width_mm, size.height_mm) / 2)}
          step={0.5}
          value={outline.radius_mm ?? 0}
          onKeep={(radius_mm, gesture) => dress({ outline: { ...outline, radius_mm } }, gesture)}
        />
      )}
      <Part
        name="Border"
        on={!!border}
        onChange={(on) => dress({ border: on ? { width_mm: 3, colour: "#ffffff", side: "inside" } : null })}
      >
        {border && (
          <>
            <div className={css.tools}>
              <Colour
                name="Border colour"
                value={border.colour ?? "#ffffff"}
                onKeep={(colour, g) => within("border", { colour }, g)}
              />
              <SegmentedControl
                size="xs"
                aria-label="Side of the border"
                value={border.side ?? "inside"}
                onChange={(side) => within("border", { side: side as "inside" })}
                data={["inside", "centred", "outside"]}
              />
            </div>
            <Dial
              label="Width"
              unit="mm"
              min={0.1}
              max={30}
              step={0.1}
              value={border.width_mm}
              onKeep={(width_mm, g) => within("border", { width_mm }, g)}
            />
          </>
        )}
      </Part>
      <Part
        name="Mat"
        on={!!mat}
        onChange={(on) => dress({ mat: on ? { width_mm: 8, colour: "#f6f4ee", bevel_mm: 0.8 } : null })}
      >
        {mat && (
          <>
            <div className={css.tools}>
              <Colour
                name="Mat colour"
                value={mat.colour ?? "#f6f4ee"}
                onKeep={(colour, g) => within("mat", { colour }, g)}
              />
            </div>
            <Dial
              label="Width"
              unit="mm"
              min={0.5}
              max={60}
              step={0.5}
              value={mat.width_mm}
              onKeep={(width_mm, g) => within("mat", { width_mm }, g)}
            />
            <Dial
              label="Bevel"
              unit="mm"
              min={0}
              max={4}
              step={0.1}
              value={mat.bevel_mm ?? 0.8}
              onKeep={(bevel_mm, g) => within("mat", { bevel_mm }, g)}
            />
          </>
        )}
      </Part>
      <Part
        name="Shadow"
        on={!!shadow}
        onChange={(on) =>
          dress({
            shadow: on ? { kind: "drop", distance_mm: 2, blur_mm: 4, opacity: 0.4, colour: "#000000" } : null,
          })
        }
      >
        {shadow && (
          <>
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label="Kind of shadow"
              value={shadow.kind ?? "drop"}
              onChange={(kind) => within("shadow", { kind: kind as "drop" })}
              data={[
                { value: "drop", label: "Drop" },
                { value: "contact", label: "Contact" },
                { value: "lifted", label: "Lifted corners" },
              ]}
            />
            {shadow.kind !== "contact" && (
              <Dial
                label="Distance"
                unit="mm"
                min={0}
                max={20}
                step={0.1}
                value={shadow.distance_mm ?? 1.5}
                onKeep={(distance_mm, g) => within("shadow", { distance_mm }, g)}
              />
            )}
            <Dial
              label="Softness"
              unit="mm"
              min={0}
              max={20}
              step={0.1}
              value={shadow.blur_mm ?? 2}
              onKeep={(blur_mm, g) => within("shadow", { blur_mm }, g)}
            />
            <Dial
              label="Strength"
              unit="%"
              min={0}
              max={100}
              value={Math.round((shadow.opacity ?? 0.4) * 100)}
              onKeep={(v, g) => within("shadow", { opacity: v / 100 }, g)}
            />
          </>
        )}
      </Part>
      <div className={css.group}>
        <Dial
          label="Opacity"
          unit="%"
          min={0}
          max={100}
          value={Math.round((layer.opacity ?? 1) * 100)}
          onKeep={(v, g) => dress({ opacity: v / 100 }, g)}
        />
        <label className={css.choice}>
          Blend
          <select
            value={layer.blend ?? "normal"}
            onChange={(event) => dress({ blend: event.target.value as "normal" })}
          >
            {BLENDS.map((blend) => (
              <option key={blend}>{blend}</option>
            ))}
          </select>
        </label>
      </div>
    </>
  );
}

/** Whether a PNG carries transparency: its colour type has an alpha channel, or there is a tRNS chunk (PNG, sections 11.2, 11.3). */
function hasAlpha(png: Uint8Array): boolean {
  if (png[25] === 4 || png[25] === 6) return true;
  for (let at = 33; at + 8 < png.length; ) {
    const name = String.fromCharCode(...png.slice(at + 4, at + 8));
    if (name === "tRNS") return true;
    if (name === "IDAT") return false;
    at += 12 + new DataView(png.buffer, png.byteOffset + at, 4).getUint32(0);
  }
  return false;
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
