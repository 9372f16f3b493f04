import { Button, Checkbox, TextInput } from "@mantine/core";
import { useState } from "react";
import side from "../bench/side.module.css";
import { type Said, useChange } from "../editing/jobs";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { Dial } from "../ui/Dial";
import { NumberField } from "../ui/NumberField";
import { AnotherSize } from "./AnotherSize";
import { Swatches } from "./ColourField";
import { freshId } from "./layers";
import { useTable } from "./table";
import css from "./workshop.module.css";

const TURNS = [
  ["left", "Turn left"],
  ["right", "Turn right"],
  ["half", "Half a turn"],
  ["left_right", "Mirror sides"],
  ["top_bottom", "Mirror top, bottom"],
] as const;

/** The sheet itself, when nothing is selected: size, margins, grid, light; turned as a whole; which sheets there are. */
export function SheetPanel({ state }: { state: View }) {
  const { edit } = useChange(state);
  const set = useTable((table) => table.set);
  const { layout, sheet } = state;
  const sheetSet = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_sheet", fields } as Said, { gesture });
  const [sizing, setSizing] = useState(false);
  const net = layout.columns;
  const background = layout.layers.find((layer) => layer.kind === "background");
  const fresh = (copy: boolean) => {
    const id = freshId("sheet");
    edit(
      {
        op: "add_sheet",
        after: sheet.id,
        fresh: {
          id,
          name: `${copy ? sheet.name : "Sheet"} ${state.sheets.length + 1}`.slice(0, 120),
          role: sheet.role,
          layout: copy ? layout : { ...layout, layers: [], order: [] },
        },
      } as Said,
      { onStored: () => set({ sheet: id, selected: [] }) },
    );
  };
  return (
    <section className={`${side.panel} ${css.panel}`} aria-label="Sheet">
      <Named key={sheet.id} state={state} />
      <div className={css.figures}>
        <NumberField
          label="Width"
          unit="mm"
          min={10}
          max={5000}
          value={layout.width_mm}
          onKeep={(width_mm) => sheetSet({ width_mm })}
        />
        <NumberField
          label="Height"
          unit="mm"
          min={10}
          max={5000}
          value={layout.height_mm}
          onKeep={(height_mm) => sheetSet({ height_mm })}
        />
        <NumberField
          label="Bleed"
          unit="mm"
          min={0}
          max={50}
          step={0.5}
          value={layout.bleed_mm ?? 3}
          onKeep={(bleed_mm) => sheetSet({ bleed_mm })}
        />
        <NumberField
          label="Safe"
          unit="mm"
          min={0}
          max={50}
          step={0.5}
          value={layout.safe_mm ?? 5}
          onKeep={(safe_mm) => sheetSet({ safe_mm })}
        />
      </div>
      <div className={side.group}>
        <div className={css.row}>
          {TURNS.map(([how, label]) => (
            <Button
              key={how}
              size="compact-xs"
              variant="default"
              onClick={() => edit({ op: "turn_sheet", how } as Said)}
            >
              {label}
            </Button>
          ))}
        </div>
        <p className={side.hint}>The whole sheet. Photos stay upright, words can be read, the light stays.</p>
      </div>
      <div className={`${side.group} ${css.row}`}>
        <Button size="compact-xs" variant="default" onClick={() => setSizing(true)}>
          Another size…
        </Button>
        {sizing && <AnotherSize state={state} onClose={() => setSizing(false)} />}
      </div>
      <div className={side.group}>
        <Checkbox
          size="xs"
          label="A grid to lay things on"
          checked={!!net}
          onChange={(event) => sheetSet({ columns: event.currentTarget.checked ? {} : null })}
        />
        {net && (
          <div className={css.figures}>
            <NumberField
              label="Columns"
              min={1}
              max={48}
              value={net.columns ?? 12}
              onKeep={(columns) => sheetSet({ "columns.columns": columns })}
            />
            <NumberField
              label="Rows"
              min={1}
              max={48}
              value={net.rows ?? 8}
              onKeep={(rows) => sheetSet({ "columns.rows": rows })}
            />
            <NumberField
              label="Gutter"
              unit="mm"
              min={0}
              max={500}
              value={net.gutter_mm ?? 4}
              onKeep={(mm) => sheetSet({ "columns.gutter_mm": mm })}
            />
            <NumberField
              label="Margin"
              unit="mm"
              min={0}
              max={1000}
              value={net.margin_mm ?? 12}
              onKeep={(mm) => sheetSet({ "columns.margin_mm": mm })}
            />
          </div>
        )}
        <Dial
          label="Light from"
          min={0}
          max={360}
          unit="°"
          value={layout.light?.from_deg ?? 120}
          onKeep={(deg, g) => sheetSet({ "light.from_deg": deg }, g)}
        />
      </div>
      <div className={side.group}>
        <Swatches state={state} />
        <div className={css.row}>
          <Button
            size="compact-xs"
            variant="default"
            component="a"
            href={`/api/jobs/${state.id}/sheets/${sheet.id}/svg`}
            download
          >
            Save as SVG
          </Button>
        </div>
      </div>
      <div className={`${side.group} ${css.row}`}>
        <Button size="compact-xs" variant="default" onClick={() => edit({ op: "renumber" } as Said)}>
          Number as one reads
        </Button>
        {!background && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              const id = freshId("background");
              const layer = { id, kind: "background", colour: "#ffffff" };
              edit({ op: "add_layers", layers: [layer], below: layout.layers[0]?.id ?? null } as Said);
              set({ selected: [id] });
            }}
          >
            Lay a background
          </Button>
        )}
        <Button size="compact-xs" variant="default" onClick={() => fresh(false)}>
          Add an empty sheet
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => fresh(true)}>
          Add this sheet again
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={state.sheets.length < 2}
          onClick={() => {
            set({ sheet: state.sheets[state.at ? state.at - 1 : 1]?.id ?? "", selected: [] });
            edit({ op: "remove_sheet", gone: sheet.id } as Said);
          }}
        >
          Take this sheet away
        </Button>
      </div>
    </section>
  );
}

function Named({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { sheet } = state;
  const { shown, change } = useKept(
    sheet.name,
    (name, gesture) =>
      name.trim() && edit({ op: "rename_sheet", which: sheet.id, name: name.trim() } as Said, { gesture }),
    500,
  );
  return (
    <TextInput
      size="xs"
      label="This sheet"
      maxLength={120}
      value={shown}
      onChange={(event) => change(event.currentTarget.value)}
    />
  );
}
