import { Button } from "@mantine/core";
import type { ReactNode } from "react";
import type { KeepArea } from "../../api/client";
import type { Held } from "../../editing/fitting";
import { KEEP_NAMES } from "../../geometry/areas";
import type { Lying } from "../../geometry/placing";
import { Dial } from "../../ui/Dial";
import { t } from "../../words";
import { byHand, describeBare, RATIOS, ratioOf } from "./photoroom";
import css from "./photoroom.module.css";

export type Tool = "crop" | "level" | "keep";

/** Beside the photo: ratios and numbers, straightening, what must stay visible. */
export function PhotoRoomSide({
  top,
  standing,
  now,
  lying,
  marks,
  tool,
  setTool,
  tryRatio,
  keep,
  mark,
  bringIntoView,
  done,
}: {
  top: ReactNode;
  standing: ReactNode;
  now: Held;
  lying: Lying;
  marks: KeepArea[];
  tool: Tool;
  setTool: (tool: Tool) => void;
  /** Shows a ratio without keeping it; undefined ends that. */
  tryRatio: (ratio: number | null | undefined) => void;
  keep: (part: Partial<Lying>) => void;
  mark: (areas: KeepArea[] | null) => void;
  bringIntoView: () => void;
  done: () => void;
}) {
  const { photo } = now;
  const nameOf = (ratio: number | null) =>
    ratio === null
      ? t("Opening")
      : RATIOS.find(([name]) => Math.abs((ratioOf(name, now.row) ?? 0) - ratio) < 1e-6)?.[0];
  const [chosen, stored] = [nameOf(lying.ratio), nameOf(now.lying.ratio)];
  return (
    <div className={css.side}>
      {top}
      <fieldset>
        <legend>{t("Crop to")}</legend>
        <div className={css.ratios}>
          {RATIOS.map(([name]) => (
            <Button
              key={name}
              size="compact-xs"
              variant={stored === name ? "filled" : chosen === name ? "light" : "default"}
              aria-pressed={stored === name}
              disabled={!!now.row.span}
              onPointerEnter={() => tryRatio(ratioOf(name, now.row))}
              onFocus={() => tryRatio(ratioOf(name, now.row))}
              onPointerLeave={() => tryRatio(undefined)}
              onBlur={() => tryRatio(undefined)}
              onClick={() => {
                setTool("crop");
                keep({ ratio: ratioOf(name, now.row) });
              }}
            >
              {name}
            </Button>
          ))}
          <Button
            size="compact-xs"
            variant="default"
            disabled={!lying.ratio}
            onClick={() => keep({ ratio: lying.ratio ? 1 / lying.ratio : null })}
          >
            {t("Swap width and height")}
          </Button>
        </div>
        <p role="status">{describeBare(now.outline, lying.ratio)}</p>
        <Dial
          label={t("Width to height")}
          min={0.2}
          max={5}
          step={0.01}
          value={lying.ratio ?? Math.round((100 * now.row.width_mm) / now.row.height_mm) / 100}
          disabled={!!now.row.span}
          onKeep={(ratio) => keep({ ratio })}
        />
        <Dial
          label={t("Zoom")}
          unit="×"
          min={1}
          max={8}
          step={0.01}
          value={lying.zoom}
          onKeep={(zoom) => keep({ zoom })}
        />
      </fieldset>
      <fieldset>
        <legend>{t("Straighten")}</legend>
        <Button
          size="compact-xs"
          variant={tool === "level" ? "filled" : "default"}
          aria-pressed={tool === "level"}
          onClick={() => setTool(tool === "level" ? "crop" : "level")}
        >
          {t("Draw along a horizon or an edge")}
        </Button>
        <Dial
          label={t("Turn")}
          unit="°"
          min={-45}
          max={45}
          step={0.1}
          value={lying.turn_deg}
          onKeep={(turn_deg) => keep({ turn_deg })}
        />
      </fieldset>
      {standing}
      <fieldset>
        <legend>{t("Keep areas")}</legend>
        <p>
          {photo.marked
            ? t("Marked by hand.")
            : photo.found
              ? marks.length
                ? t("Found: {kinds}.", {
                    kinds: [...new Set(marks.map((area) => KEEP_NAMES[area.kind ?? "hand"]))].join("; "),
                  })
                : t("Nothing was found that must stay visible.")
              : t("Not looked at yet.")}
        </p>
        <div className={css.ratios}>
          <Button
            size="compact-xs"
            variant={tool === "keep" ? "filled" : "default"}
            aria-pressed={tool === "keep"}
            onClick={() => setTool(tool === "keep" ? "crop" : "keep")}
          >
            {t("Draw and move")}
          </Button>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              mark([...byHand(marks), { kind: "hand", left: 0.35, top: 0.3, width: 0.3, height: 0.3 }])
            }
          >
            {t("Add one")}
          </Button>
          <Button
            size="compact-xs"
            variant="default"
            disabled={!marks.length}
            onClick={() => mark(byHand(marks.slice(0, -1)))}
          >
            {t("Remove the last")}
          </Button>
          <Button size="compact-xs" variant="default" disabled={!photo.marked} onClick={() => mark(null)}>
            {t("Reset to automatic")}
          </Button>
        </div>
      </fieldset>
      <div className={css.foot}>
        <Button variant="default" onClick={bringIntoView}>
          {t("Show keep areas in frame")}
        </Button>
        <Button onClick={done}>{t("Done")}</Button>
      </div>
    </div>
  );
}
