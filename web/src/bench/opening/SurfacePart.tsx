import { Button, SegmentedControl } from "@mantine/core";
import type { Opening, Row } from "../../api/client";
import { useChange } from "../../editing/changes";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { openingOf } from "../../editing/view";
import type { Point } from "../../geometry/placing";
import { netAgain, netOver, type Surface } from "../../geometry/surfaces";
import { Choice } from "../../ui/Choice";
import { Dial } from "../../ui/Dial";
import { fixed } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import css from "../side.module.css";
import { Echoes } from "./EchoPart";
import { ResetProportions } from "./ResetProportions";
import { cornersOf, pair, surfaceAs } from "./surfaceKinds";

const KINDS = [
  { value: "flat", label: t("Flat") },
  { value: "corners", label: t("Corners") },
  { value: "grid", label: t("Grid") },
  { value: "roll", label: t("Roll") },
];
/** How the opening lies on the page: flat, by its corners, on a net, round a cylinder; and its echoes. */
export function SurfacePart({ state, layer, row }: { state: View; layer: Opening; row: Row }) {
  const { edit } = useChange(state);
  const { help, snap, set: show } = usePicked(useBench, "help", "snap", "set");
  const surface = layer.surface;
  const set = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_fields", layers: [layer.id], fields, expect: {} }, { gesture });
  const lay = (surface: Surface) => set({ surface });
  const shape = (part: (now: Surface) => Record<string, unknown>, gesture: string) =>
    edit(
      (now) => {
        const here = openingOf(now, layer.id)?.surface;
        if (here?.kind !== surface.kind) return undefined;
        return { op: "set_fields", layers: [layer.id], fields: part(here), expect: {} };
      },
      { gesture },
    );
  const number = (
    label: string,
    value: number,
    min: number,
    max: number,
    step: number,
    unit: string,
    part: (value: number, now: Surface) => Record<string, unknown>,
  ) => (
    <Dial
      key={label}
      label={label}
      value={value}
      min={min}
      max={max}
      step={step}
      unit={unit}
      onKeep={(value, gesture) => shape((now) => part(value, now), gesture)}
    />
  );
  const { width_mm: wide, height_mm: high } = state.layout;
  const moveBy = (points: Point[][], by: Point) =>
    points.map((line) => line.map(([x, y]) => pair([x + by[0], y + by[1]])));
  return (
    <>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={t("Surface")}
        value={surface.kind}
        onChange={(kind) => lay(surfaceAs(kind, row, surface))}
        data={KINDS}
      />
      {(surface.kind === "flat" || surface.kind === "roll") && (
        <>
          {number(t("Across"), surface.centre[0], -wide, 2 * wide, 0.1, "mm", (v, now) => ({
            "surface.centre": [v, "centre" in now ? now.centre[1] : 0],
          }))}
          {number(t("Down"), surface.centre[1], -high, 2 * high, 0.1, "mm", (v, now) => ({
            "surface.centre": ["centre" in now ? now.centre[0] : 0, v],
          }))}
          {surface.kind === "flat" && layer.outline.kind !== "path" && (
            <>
              {number(t("Width"), layer.outline.width_mm, 3, wide, 0.1, "mm", (v) => ({
                "outline.width_mm": v,
              }))}
              {number(t("Height"), layer.outline.height_mm, 3, high, 0.1, "mm", (v) => ({
                "outline.height_mm": v,
              }))}
            </>
          )}
          {number(t("Turn"), surface.turn_deg ?? 0, -180, 180, 0.1, "°", (v) => ({ "surface.turn_deg": v }))}
        </>
      )}
      {surface.kind === "flat" && (
        <details className={css.more} open={row.distortion > 1.005}>
          <summary>{t("Stretch and skew")}</summary>
          {number(t("Stretch across"), surface.stretch_x ?? 1, 0.2, 5, 0.01, "×", (v) => ({
            "surface.stretch_x": v,
          }))}
          {number(t("Stretch down"), surface.stretch_y ?? 1, 0.2, 5, 0.01, "×", (v) => ({
            "surface.stretch_y": v,
          }))}
          {number(t("Skew"), surface.skew_deg ?? 0, -60, 60, 0.5, "°", (v) => ({ "surface.skew_deg": v }))}
          <p className={css.hint}>
            {row.distortion > 1.005
              ? t("Stretched {distortion} : 1", { distortion: fixed(row.distortion, 2) })
              : t("Not stretched.")}{" "}
            <ResetProportions state={state} row={row} />
          </p>
        </details>
      )}
      {surface.kind === "roll" && (
        <>
          {number(t("Radius"), surface.radius_mm, 5, 500, 0.5, "mm", (v) => ({ "surface.radius_mm": v }))}
          {number(t("Tilt"), surface.tilt_deg ?? 0, -80, 80, 0.5, "°", (v) => ({ "surface.tilt_deg": v }))}
        </>
      )}
      {surface.kind === "corners" && (
        <>
          <SegmentedControl
            size="xs"
            fullWidth
            aria-label={t("Corner constraint")}
            value={help}
            onChange={(value) => show({ help: value as typeof help })}
            data={[
              { value: "free", label: t("Free corners") },
              { value: "height", label: t("Equal heights") },
              { value: "parallel", label: t("Parallel sides") },
            ]}
          />
          <div className={`${css.corners} num`}>
            {surface.points.map((point, index) => {
              const name = [t("Top left"), t("Top right"), t("Bottom right"), t("Bottom left")][
                index
              ] as string;
              return (
                <div key={name}>
                  <span>{name}</span>
                  {([0, 1] as const).map((axis) => (
                    <NumberField
                      key={axis}
                      bare
                      unit="mm"
                      step={0.1}
                      label={axis ? t("{name}, down", { name }) : t("{name}, across", { name })}
                      value={point[axis]}
                      onKeep={(value) => {
                        const points = surface.points.map((p) => [...p] as [number, number]);
                        (points[index] as [number, number])[axis] = value;
                        lay({ ...surface, points } as Surface);
                      }}
                    />
                  ))}
                </div>
              );
            })}
          </div>
          {row.distortion > 1.005 && (
            <p className={css.hint}>
              {t("Stretched {distortion} : 1", { distortion: fixed(row.distortion, 2) })}{" "}
              <ResetProportions state={state} row={row} />
            </p>
          )}
        </>
      )}
      {surface.kind === "grid" && (
        <div className={css.tools}>
          {(["rows", "columns"] as const).map((side) => {
            const net = surface.net;
            const size = { rows: net.length, columns: net[0]?.length ?? 2 };
            return (
              <Choice
                key={side}
                label={side === "rows" ? t("Rows") : t("Columns")}
                value={String(size[side])}
                data={["2", "3", "4", "5"]}
                onChange={(count) => {
                  const to = { ...size, [side]: Number(count) };
                  lay({
                    ...surface,
                    net: netAgain(net, to.rows, to.columns).map((line) => line.map(pair)),
                  } as Surface);
                }}
              />
            );
          })}
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              lay({
                ...surface,
                net: moveBy(netOver(cornersOf(row, surface), 4, 4), [0, 0]),
              } as Surface)
            }
          >
            {t("Even out")}
          </Button>
        </div>
      )}
      <Tick on={snap} onChange={(on) => show({ snap: on })}>
        {t("Points snap to the 5 mm grid and to neighbours (Alt frees)")}
      </Tick>
      <Echoes state={state} layer={layer} row={row} />
    </>
  );
}
