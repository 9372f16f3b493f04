import { Button, Menu, TextInput } from "@mantine/core";
import { useRef, useState } from "react";
import { type AssetKept, type NewLayer, sent } from "../api/client";
import { part, want } from "../api/parts";
import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { Swatches } from "../ui/colour/ColourField";
import { Dial } from "../ui/Dial";
import { MenuItems } from "../ui/MenuItems";
import { MonthField } from "../ui/MonthField";
import { NumberField } from "../ui/NumberField";
import { underWay } from "../ui/underWay";
import { t } from "../words";
import { AnotherSize } from "./AnotherSize";
import { Holes } from "./Holes";
import { LayGrid } from "./LayGrid";
import { freshId, round, rounded } from "./layers";
import { useTable } from "./table";
import css from "./workshop.module.css";

const TURNS = [
  ["left", t("Rotate left")],
  ["right", t("Rotate right")],
  ["half", t("Rotate 180°")],
  ["left_right", t("Flip horizontal")],
  ["top_bottom", t("Flip vertical")],
] as const;

/** The sheet itself, when nothing is selected: size, margins, grid, light; turned as a whole; which sheets there are. */
export function SheetPanel({ state }: { state: View }) {
  const { edit } = useChange(state);
  const set = useTable((table) => table.set);
  const { layout, sheet } = state;
  const sheetSet = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_sheet", fields }, { gesture });
  const [sizing, setSizing] = useState(false);
  const background = layout.layers.find((layer) => layer.kind === "background");
  const fresh = (copy: boolean) => {
    const id = freshId("sheet");
    edit(
      {
        op: "add_sheet",
        after: sheet.id,
        fresh: {
          id,
          name: `${copy ? sheet.name : t("Sheet")} ${state.sheets.length + 1}`.slice(0, 120),
          role: sheet.role,
          layout: copy ? layout : { ...layout, layers: [], order: [] },
        },
      },
      { onStored: () => set({ sheet: id, selected: [] }) },
    );
  };
  return (
    <section className={side.panel} aria-label={t("Sheet")}>
      <Named key={sheet.id} state={state} />
      <Part key={`part ${sheet.id}`} state={state} />
      <div className={css.figures}>
        <NumberField
          label={t("Width")}
          unit="mm"
          min={10}
          max={5000}
          value={layout.width_mm}
          onKeep={(width_mm) => sheetSet({ width_mm })}
        />
        <NumberField
          label={t("Height")}
          unit="mm"
          min={10}
          max={5000}
          value={layout.height_mm}
          onKeep={(height_mm) => sheetSet({ height_mm })}
        />
        <NumberField
          label={t("Bleed")}
          unit="mm"
          min={0}
          max={50}
          step={0.5}
          value={layout.bleed_mm ?? 3}
          onKeep={(bleed_mm) => sheetSet({ bleed_mm })}
        />
        <NumberField
          label={t("Safe")}
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
          {TURNS.slice(0, 2).map(([how, label]) => (
            <Button
              key={how}
              size="compact-xs"
              variant="default"
              onClick={() => edit({ op: "turn_sheet", how })}
            >
              {label}
            </Button>
          ))}
          <Menu position="bottom-start">
            <Menu.Target>
              <Button size="compact-xs" variant="default">
                {t("Flip or 180°")}
              </Button>
            </Menu.Target>
            <Menu.Dropdown>
              <MenuItems
                actions={TURNS.slice(2).map(([how, label]) => ({
                  label,
                  run: () => edit({ op: "turn_sheet", how }),
                }))}
              />
            </Menu.Dropdown>
          </Menu>
        </div>
        <p className={side.hint}>
          {t("The whole sheet. Photos stay upright, words can be read, the light stays.")}
        </p>
      </div>
      <div className={`${side.group} ${css.row}`}>
        <Button size="compact-xs" variant="default" onClick={() => setSizing(true)}>
          {t("Another size…")}
        </Button>
        {sizing && <AnotherSize state={state} onClose={() => setSizing(false)} />}
      </div>
      <Holes state={state} />
      <div className={side.group}>
        <LayGrid state={state} />
        <Dial
          label={t("Light from")}
          min={0}
          max={360}
          unit="°"
          value={layout.light?.from_deg ?? 120}
          onKeep={(deg, g) => sheetSet({ "light.from_deg": deg }, g)}
        />
      </div>
      {!!state.job.making?.read?.length && (
        <details className={side.group} open>
          <summary>{t("Not read from the file")}</summary>
          <ul className={css.told}>
            {state.job.making.read.map((note) => (
              <li key={note}>{note}</li>
            ))}
          </ul>
        </details>
      )}
      <Lay state={state} />
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
            {t("Save as SVG")}
          </Button>
        </div>
      </div>
      <div className={`${side.group} ${css.row}`}>
        <Button size="compact-xs" variant="default" onClick={() => edit({ op: "renumber" })}>
          {t("Renumber openings")}
        </Button>
        {!background && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              const id = freshId("background");
              const layer = { id, kind: "background", colour: "#ffffff" } as const;
              edit({ op: "add_layers", layers: [layer], below: layout.layers[0]?.id ?? null });
              set({ selected: [id] });
            }}
          >
            {t("Add background")}
          </Button>
        )}
        <Button size="compact-xs" variant="default" onClick={() => fresh(false)}>
          {t("Add sheet")}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => fresh(true)}>
          {t("Duplicate sheet")}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={state.sheets.length < 2}
          onClick={() => {
            set({ sheet: state.sheets[state.at ? state.at - 1 : 1]?.id ?? "", selected: [] });
            edit({ op: "remove_sheet", gone: sheet.id });
          }}
        >
          {t("Delete sheet")}
        </Button>
      </div>
    </section>
  );
}

/** What is laid on the sheet that no tool draws: a picture, or another sheet as a picture. */
function Lay({ state }: { state: View }) {
  const { edit } = useChange(state);
  const set = useTable((table) => table.set);
  const file = useRef<HTMLInputElement>(null);
  const { width_mm, height_mm } = state.layout;
  const others = state.sheets.filter((one) => one.id !== state.sheet.id);
  const lay = (layer: NewLayer) => {
    edit({ op: "add_layers", layers: [layer] });
    set({ selected: [layer.id] });
  };
  const fitting = (wide: number, high: number, share: number): [number, number] => {
    const k = share * Math.min(width_mm / wide, height_mm / high);
    return [round(wide * k), round(high * k)];
  };
  const centre = rounded([width_mm / 2, height_mm / 2]);
  const picture = async (picked: File | undefined) => {
    if (!picked) return;
    await underWay(async () => {
      const asset = await sent<AssetKept>("/api/assets", picked);
      if (asset.kind === "drawing")
        throw new Error(t("{name} is a drawing: bring it in among the ornaments.", { name: picked.name }));
      const [w, h] = fitting(asset.width, asset.height, 0.5);
      const name = picked.name.replace(/\.\w+$/, "").slice(0, 120);
      lay({
        id: freshId("picture"),
        kind: "overlay",
        name,
        asset: asset.name,
        centre,
        width_mm: w,
        height_mm: h,
      });
    });
    if (file.current) file.current.value = "";
  };
  const sheet = async (id: string) => {
    const shown = state.sheets.find((one) => one.id === id);
    if (!shown) return;
    await underWay(async () => {
      await want("layouts", shown.layout);
      const size = part("layouts", shown.layout);
      const [w, h] = fitting(size?.width_mm ?? width_mm, size?.height_mm ?? height_mm, 0.5);
      lay({
        id: freshId("page"),
        kind: "page",
        name: shown.name,
        of: id,
        outline: { kind: "rectangle", width_mm: w, height_mm: h, radius_mm: 0 },
        surface: { kind: "flat", centre, turn_deg: 0 },
      });
    });
  };
  return (
    <div className={`${side.group} ${css.row}`}>
      <input
        ref={file}
        type="file"
        accept=".png,.jpg,.jpeg"
        hidden
        data-testid="picture-file"
        onChange={(event) => picture(event.target.files?.[0])}
      />
      <Button size="compact-xs" variant="default" onClick={() => file.current?.click()}>
        {t("Place picture…")}
      </Button>
      {others.length > 0 && (
        <Choice
          bare
          wide
          label={t("Place another sheet")}
          value=""
          data={[
            { value: "", label: t("Lay a sheet as a picture…") },
            ...others.map((one) => ({ value: one.id, label: one.name })),
          ]}
          onChange={sheet}
        />
      )}
    </div>
  );
}

const ROLES = ["page", "spread", "cover", "front", "back", "inside", "month"] as const;

/** What part a sheet plays; and of a month which one. */
function Part({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { sheet } = state;
  const month = sheet.fields?.month ?? "";
  return (
    <div className={css.pair}>
      <Choice
        label={t("Part")}
        value={sheet.role}
        data={ROLES}
        onChange={(role) => edit({ op: "rename_sheet", which: sheet.id, name: sheet.name, role })}
      />
      {sheet.role === "month" && (
        <MonthField
          key={sheet.id}
          bare
          label={t("Month")}
          value={month}
          onKeep={(next) => edit({ op: "say", of: "sheet", which: sheet.id, fields: { month: next } })}
        />
      )}
    </div>
  );
}

function Named({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { sheet } = state;
  const { shown, change } = useKept(
    sheet.name,
    (name, gesture) =>
      name.trim() && edit({ op: "rename_sheet", which: sheet.id, name: name.trim() }, { gesture }),
    500,
  );
  return (
    <TextInput
      size="xs"
      label={t("This sheet")}
      maxLength={120}
      value={shown}
      onChange={(event) => change(event.currentTarget.value)}
    />
  );
}
