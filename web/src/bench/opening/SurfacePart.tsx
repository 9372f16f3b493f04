import { Button, SegmentedControl } from "@mantine/core";
import type { Echo, Opening, Row } from "../../api/client";
import { useChange } from "../../editing/jobs";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { echoesOf, leaves, openingOf } from "../../editing/view";
import { apply, boundsOf, type Point } from "../../geometry/placing";
import { type Net, netAgain, netOver, type Surface } from "../../geometry/surfaces";
import { Choice } from "../../ui/Choice";
import { Dial } from "../../ui/Dial";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";
import css from "../side.module.css";

const KINDS = [
  { value: "flat", label: "Flat" },
  { value: "corners", label: "Corners" },
  { value: "grid", label: "Grid" },
  { value: "roll", label: "Roll" },
];
const pair = ([x, y]: Point): [number, number] => [Math.round(x * 1000) / 1000, Math.round(y * 1000) / 1000];

/** Where the four corners of the box about an opening lie now. */
function cornersOf(row: Row, surface: Surface): Point[] {
  if (surface.kind === "corners") return surface.points as unknown as Point[];
  if (surface.kind === "grid") {
    const net = surface.net as unknown as Net;
    const last = net.length - 1;
    const end = (net[0]?.length ?? 1) - 1;
    return [net[0]?.[0], net[0]?.[end], net[last]?.[end], net[last]?.[0]] as Point[];
  }
  const box = boundsOf(row.outline as unknown as Point[]);
  return (
    [
      [box.left, box.top],
      [box.right, box.top],
      [box.right, box.bottom],
      [box.left, box.bottom],
    ] as Point[]
  ).map((point) => apply(row.page_from_opening, point));
}

/** A surface of another kind that lies where this one does, as nearly as it can. */
function as(kind: string, row: Row, surface: Surface): Surface {
  const quad = cornersOf(row, surface);
  const middle = pair([quad.reduce((s, p) => s + p[0], 0) / 4, quad.reduce((s, p) => s + p[1], 0) / 4]);
  const [a, b] = quad as [Point, Point];
  const turn = Math.round((Math.atan2(a[1] - b[1], b[0] - a[0]) * 1800) / Math.PI) / 10;
  if (kind === "corners") return { kind: "corners", points: quad.map(pair) } as unknown as Surface;
  if (kind === "grid")
    return { kind: "grid", net: netOver(quad, 4, 4).map((line) => line.map(pair)) } as unknown as Surface;
  if (kind === "roll")
    return {
      kind: "roll",
      centre: middle,
      radius_mm: Math.round(row.width_mm * 5) / 10,
      tilt_deg: 15,
      turn_deg: turn,
    };
  return { kind: "flat", centre: middle, turn_deg: turn, stretch_x: 1, stretch_y: 1, skew_deg: 0 };
}

/** How the opening lies on the page: flat, by its corners, on a net, round a cylinder; and its echoes. */
export function SurfacePart({ state, layer, row }: { state: View; layer: Opening; row: Row }) {
  const { edit } = useChange(state);
  const { help, snap, set: show } = useBench();
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
        aria-label="Surface"
        value={surface.kind}
        onChange={(kind) => lay(as(kind, row, surface))}
        data={KINDS}
      />
      {(surface.kind === "flat" || surface.kind === "roll") && (
        <>
          {number("Across", surface.centre[0], -wide, 2 * wide, 0.1, "mm", (v, now) => ({
            "surface.centre": [v, "centre" in now ? now.centre[1] : 0],
          }))}
          {number("Down", surface.centre[1], -high, 2 * high, 0.1, "mm", (v, now) => ({
            "surface.centre": ["centre" in now ? now.centre[0] : 0, v],
          }))}
          {surface.kind === "flat" && layer.outline.kind !== "path" && (
            <>
              {number("Width", layer.outline.width_mm, 3, wide, 0.1, "mm", (v) => ({
                "outline.width_mm": v,
              }))}
              {number("Height", layer.outline.height_mm, 3, high, 0.1, "mm", (v) => ({
                "outline.height_mm": v,
              }))}
            </>
          )}
          {number("Turn", surface.turn_deg ?? 0, -180, 180, 0.1, "°", (v) => ({ "surface.turn_deg": v }))}
        </>
      )}
      {surface.kind === "flat" && (
        <details className={css.more} open={row.distortion > 1.005}>
          <summary>Stretch and skew, on purpose</summary>
          {number("Stretch across", surface.stretch_x ?? 1, 0.2, 5, 0.01, "×", (v) => ({
            "surface.stretch_x": v,
          }))}
          {number("Stretch down", surface.stretch_y ?? 1, 0.2, 5, 0.01, "×", (v) => ({
            "surface.stretch_y": v,
          }))}
          {number("Skew", surface.skew_deg ?? 0, -60, 60, 0.5, "°", (v) => ({ "surface.skew_deg": v }))}
          <p className={css.hint}>
            {row.distortion > 1.005 ? `Distorted ${row.distortion.toFixed(2)} : 1.` : "Not distorted."}
          </p>
        </details>
      )}
      {surface.kind === "roll" && (
        <>
          {number("Radius", surface.radius_mm, 5, 500, 0.5, "mm", (v) => ({ "surface.radius_mm": v }))}
          {number("Tilt", surface.tilt_deg ?? 0, -80, 80, 0.5, "°", (v) => ({ "surface.tilt_deg": v }))}
        </>
      )}
      {surface.kind === "corners" && (
        <>
          <SegmentedControl
            size="xs"
            fullWidth
            aria-label="How corners help each other"
            value={help}
            onChange={(value) => show({ help: value as typeof help })}
            data={[
              { value: "free", label: "Each alone" },
              { value: "height", label: "Equal heights" },
              { value: "parallel", label: "Parallel sides" },
            ]}
          />
          <div className={`${css.corners} num`}>
            {(surface.points as unknown as Point[]).map((point, at) => {
              const name = ["Top left", "Top right", "Bottom right", "Bottom left"][at] as string;
              return (
                <div key={name}>
                  <span>{name}</span>
                  {([0, 1] as const).map((axis) => (
                    <NumberField
                      key={axis}
                      bare
                      unit="mm"
                      step={0.1}
                      label={`${name}, ${axis ? "down" : "across"}`}
                      value={point[axis]}
                      onKeep={(value) => {
                        const points = (surface.points as unknown as Point[]).map(
                          (p) => [...p] as [number, number],
                        );
                        (points[at] as [number, number])[axis] = value;
                        lay({ ...surface, points } as unknown as Surface);
                      }}
                    />
                  ))}
                </div>
              );
            })}
          </div>
        </>
      )}
      {surface.kind === "grid" && (
        <div className={css.tools}>
          {(["rows", "columns"] as const).map((side) => {
            const net = surface.net as unknown as Net;
            const size = { rows: net.length, columns: net[0]?.length ?? 2 };
            return (
              <Choice
                key={side}
                label={side === "rows" ? "Rows" : "Columns"}
                value={String(size[side])}
                data={["2", "3", "4", "5"]}
                onChange={(count) => {
                  const to = { ...size, [side]: Number(count) };
                  lay({
                    ...surface,
                    net: netAgain(net, to.rows, to.columns).map((line) => line.map(pair)),
                  } as unknown as Surface);
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
              } as unknown as Surface)
            }
          >
            Lay even
          </Button>
        </div>
      )}
      <Tick on={snap} onChange={(on) => show({ snap: on })}>
        Points snap to the 5 mm grid and to neighbours (Alt frees)
      </Tick>
      <Echoes state={state} layer={layer} row={row} />
    </>
  );
}

function Echoes({ state, layer, row }: { state: View; layer: Opening; row: Row }) {
  const { edit } = useChange(state);
  const echoes = echoesOf(state, layer.id);
  const add = (how: Echo["how"]) => {
    const ids = new Set(leaves(state.layout).map((entry) => entry.id));
    let at = 1;
    while (ids.has(`${layer.id.slice(0, 48)}-echo-${at}`)) at += 1;
    const moved = as("corners", row, layer.surface) as Extract<Surface, { kind: "corners" }>;
    const surface =
      how === "repeat"
        ? ({
            ...moved,
            points: (moved.points as unknown as Point[]).map(([x, y]) =>
              pair([x + row.width_mm * 0.5, y + row.height_mm * 0.5]),
            ),
          } as unknown as Surface)
        : null;
    const echo = {
      kind: "echo",
      id: `${layer.id.slice(0, 48)}-echo-${at}`,
      name: how === "repeat" ? "repeat" : "reflection",
      of: layer.id,
      how,
      surface,
    } as Echo;
    edit({ op: "add_layers", layers: [echo], below: layer.id });
  };
  return (
    <div className={css.group}>
      {echoes.map((echo) => (
        <EchoTools key={echo.id} state={state} echo={echo} row={row} />
      ))}
      <div className={css.tools}>
        <Button size="compact-xs" variant="default" onClick={() => add("reflection")}>
          Add a reflection
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => add("repeat")}>
          Add a repeat
        </Button>
      </div>
    </div>
  );
}

function EchoTools({ state, echo, row }: { state: View; echo: Echo; row: Row }) {
  const { edit } = useChange(state);
  const { floorOf, set } = useBench();
  const change = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_fields", layers: [echo.id], fields, expect: {} }, { gesture });
  const reflection = echo.how === "reflection";
  const floor = echo.floor;
  const corners = state.echoes.find((entry) => entry.echo === echo.id)?.corners as unknown as Point[];
  return (
    <div className={css.echo}>
      <h4>{reflection ? "Reflection" : "Repeat"}</h4>
      {reflection && (
        <Dial
          label="Fades over"
          unit="×"
          min={0.05}
          max={3}
          step={0.05}
          value={echo.reach ?? 0.7}
          onKeep={(v, g) => change({ reach: v }, g)}
        />
      )}
      <Dial
        label="Strength"
        unit="%"
        min={0}
        max={100}
        value={Math.round((echo.opacity ?? 1) * 100)}
        onKeep={(v, g) => change({ opacity: v / 100 }, g)}
      />
      <Dial
        label="Darken"
        unit="%"
        min={0}
        max={100}
        value={Math.round((echo.darken ?? 0) * 100)}
        onKeep={(v, g) => change({ darken: v / 100 }, g)}
      />
      <Dial
        label="Soften"
        unit="mm"
        min={0}
        max={10}
        step={0.1}
        value={echo.soften_mm ?? 0}
        onKeep={(v, g) => change({ soften_mm: v }, g)}
      />
      {reflection && !echo.surface && (
        <>
          <Dial
            label="Gap"
            unit="mm"
            min={-50}
            max={50}
            step={0.1}
            value={floor.gap_mm}
            onKeep={(v, g) => change({ "floor.gap_mm": v }, g)}
          />
          <Dial
            label="Slant"
            unit="°"
            min={-60}
            max={60}
            step={0.5}
            value={floor.slant_deg}
            onKeep={(v, g) => change({ "floor.slant_deg": v }, g)}
          />
          <Dial
            label="Length"
            unit="×"
            min={0.05}
            max={3}
            step={0.05}
            value={floor.length}
            onKeep={(v, g) => change({ "floor.length": v }, g)}
          />
        </>
      )}
      <div className={css.tools}>
        {reflection && (
          <Button
            size="compact-xs"
            variant={floorOf === echo.id ? "filled" : "default"}
            title="Click two points of the line that it is mirrored at"
            onClick={() => set({ floorOf: floorOf === echo.id ? undefined : echo.id })}
          >
            {floorOf === echo.id ? "Click two points" : "Draw the floor line"}
          </Button>
        )}
        {reflection &&
          (echo.surface || floor.line ? (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => change({ "floor.line": null, surface: null })}
            >
              Back to the source's edge
            </Button>
          ) : (
            <Button
              size="compact-xs"
              variant="default"
              disabled={!corners || row.shape.length < 3}
              onClick={() =>
                change({ surface: { kind: "corners", points: corners.map(pair) } as unknown as Surface })
              }
            >
              Pull its corners
            </Button>
          ))}
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => edit({ op: "remove_layers", layers: [echo.id] })}
        >
          Remove
        </Button>
      </div>
    </div>
  );
}
