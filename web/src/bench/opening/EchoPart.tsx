import { Button } from "@mantine/core";
import type { Echo, Opening, Row } from "../../api/client";
import { useChange } from "../../editing/changes";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { echoesOf, leaves } from "../../editing/view";
import type { Surface } from "../../geometry/surfaces";
import { Dial } from "../../ui/Dial";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import css from "../side.module.css";
import { pair, surfaceAs } from "./surfaceKinds";

/** The reflections and repeats of an opening, and what each is like. */
export function Echoes({ state, layer, row }: { state: View; layer: Opening; row: Row }) {
  const { edit } = useChange(state);
  const echoes = echoesOf(state, layer.id);
  const add = (how: Echo["how"]) => {
    const ids = new Set(leaves(state.layout).map((entry) => entry.id));
    let number = 1;
    while (ids.has(`${layer.id.slice(0, 48)}-echo-${number}`)) number += 1;
    const moved = surfaceAs("corners", row, layer.surface) as Extract<Surface, { kind: "corners" }>;
    const surface =
      how === "repeat"
        ? ({
            ...moved,
            points: moved.points.map(([x, y]) => pair([x + row.width_mm * 0.5, y + row.height_mm * 0.5])),
          } as Surface)
        : null;
    const echo = {
      kind: "echo",
      id: `${layer.id.slice(0, 48)}-echo-${number}`,
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
          {t("Add a reflection")}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => add("repeat")}>
          {t("Add a repeat")}
        </Button>
      </div>
    </div>
  );
}

type Heights = [number, number];

/** How low an echo's floor line lies at the sheet's left and right edge, mm; nothing without a line, or when it stands upright. */
function floorOn(view: View, id: string): Heights | undefined {
  const echo = leaves(view.layout).find((layer): layer is Echo => layer.id === id);
  if (!echo?.floor.line) return undefined;
  const [[x0, y0], [x1, y1]] = echo.floor.line;
  if (Math.abs(x1 - x0) < 0.1) return undefined;
  const yAt = (x: number) => Math.round((y0 + ((y1 - y0) * (x - x0)) / (x1 - x0)) * 100) / 100;
  return [yAt(0), yAt(view.layout.width_mm)];
}

/** The floor line through heights at the sheet's left and right edge. */
const acrossSheet = ([left, right]: Heights, width: number): Echo["floor"]["line"] => [
  [0, left],
  [width, right],
];

function EchoTools({ state, echo, row }: { state: View; echo: Echo; row: Row }) {
  const { edit } = useChange(state);
  const { floorOf, set } = usePicked(useBench, "floorOf", "set");
  const change = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_fields", layers: [echo.id], fields, expect: {} }, { gesture });
  const reflection = echo.how === "reflection";
  const floor = echo.floor;
  const corners = state.echoes.find((entry) => entry.echo === echo.id)?.corners;
  const lowest = Math.round(Math.max(...row.shape.map((point) => point[1])) * 100) / 100;
  const heights = floorOn(state, echo.id) ?? [lowest, lowest];
  return (
    <div className={css.echo}>
      <h4>{reflection ? t("Reflection") : t("Repeat")}</h4>
      {reflection && (
        <Dial
          label={t("Fades over")}
          unit="×"
          min={0.05}
          max={3}
          step={0.05}
          value={echo.reach ?? 0.7}
          onKeep={(v, g) => change({ reach: v }, g)}
        />
      )}
      <Dial
        label={t("Strength")}
        unit="%"
        min={0}
        max={100}
        value={Math.round((echo.opacity ?? 1) * 100)}
        onKeep={(v, g) => change({ opacity: v / 100 }, g)}
      />
      <Dial
        label={t("Darken")}
        unit="%"
        min={0}
        max={100}
        value={Math.round((echo.darken ?? 0) * 100)}
        onKeep={(v, g) => change({ darken: v / 100 }, g)}
      />
      <Dial
        label={t("Soften")}
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
            label={t("Gap")}
            unit="mm"
            min={-50}
            max={50}
            step={0.1}
            value={floor.gap_mm}
            onKeep={(v, g) => change({ "floor.gap_mm": v }, g)}
          />
          <Dial
            label={t("Slant")}
            unit="°"
            min={-60}
            max={60}
            step={0.5}
            value={floor.slant_deg}
            onKeep={(v, g) => change({ "floor.slant_deg": v }, g)}
          />
          <Dial
            label={t("Length")}
            unit="×"
            min={0.05}
            max={3}
            step={0.05}
            value={floor.length}
            onKeep={(v, g) => change({ "floor.length": v }, g)}
          />
          {(["left", "right"] as const).map((end, n) => (
            <Dial
              key={end}
              label={t("Floor, {end}", { end })}
              unit="mm"
              min={-Math.round(state.layout.height_mm / 2)}
              max={Math.round(1.5 * state.layout.height_mm)}
              step={0.5}
              value={heights[n] ?? 0}
              onKeep={(v, gesture) =>
                edit(
                  (now) => {
                    // Of the newest line, since the other end may have been typed a moment ago.
                    const line = floorOn(now, echo.id) ?? [lowest, lowest];
                    const ends: Heights = n ? [line[0], v] : [v, line[1]];
                    const fields = { "floor.line": acrossSheet(ends, now.layout.width_mm) };
                    return { op: "set_fields", layers: [echo.id], fields, expect: {} };
                  },
                  { gesture },
                )
              }
            />
          ))}
        </>
      )}
      <div className={css.tools}>
        {reflection && (
          <Button
            size="compact-xs"
            variant={floorOf === echo.id ? "filled" : "default"}
            title={t("Click two points of the mirror line")}
            onClick={() => set({ floorOf: floorOf === echo.id ? undefined : echo.id })}
          >
            {floorOf === echo.id ? t("Click two points") : t("Draw the floor line")}
          </Button>
        )}
        {reflection &&
          (echo.surface || floor.line ? (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => change({ "floor.line": null, surface: null })}
            >
              {t("Reset to the photo's edge")}
            </Button>
          ) : (
            <Button
              size="compact-xs"
              variant="default"
              disabled={!corners || row.shape.length < 3}
              onClick={() =>
                corners && change({ surface: { kind: "corners", points: corners.map(pair) } as Surface })
              }
            >
              {t("Pull its corners")}
            </Button>
          ))}
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => edit({ op: "remove_layers", layers: [echo.id] })}
        >
          {t("Remove")}
        </Button>
      </div>
    </div>
  );
}
