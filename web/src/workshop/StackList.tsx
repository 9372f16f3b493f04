import {
  type CSSProperties,
  type DragEvent,
  type SyntheticEvent,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { sheetPicture } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { boundsOf } from "../geometry/placing";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { drawnBy, found, type Layer, named, stacked } from "./layers";
import { type RowActions, StackRow } from "./StackRow";
import { useTable } from "./table";
import css from "./workshop.module.css";

const DRAGGED = "application/x-sutaru-layer";
const [WIDE, HIGH] = [40, 30];

/** A sheet's layers, the uppermost first, each with a small picture; pulled to restack, pointed at to be seen on the sheet. */
export function StackList({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { selected, set } = usePicked(useTable, "selected", "set");
  const [over, setOver] = useState<string>();
  const list = useRef<HTMLUListElement>(null);
  const { layers } = state.layout;
  const numbers = new Map(state.rows.map((row) => [row.opening, row.number]));
  const isSelected = new Set(selected);
  useEffect(() => {
    list.current
      ?.querySelector(`[data-row="${CSS.escape(selected[0] ?? "")}"]`)
      ?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  const on = useMemo<RowActions>(
    () => ({
      select: (id, event) => {
        const { selected } = useTable.getState();
        const more = event.shiftKey || event.ctrlKey || event.metaKey;
        const rest = selected.filter((one) => one !== id);
        set({ selected: more ? (rest.length < selected.length ? rest : [...rest, id]) : [id] });
      },
      point: (id) => set({ pointed: id }),
      lock: (id, isLocked) => edit({ op: "set_fields", layers: [id], fields: { place_locked: isLocked } }),
      show: (id, isShown) => edit({ op: "set_fields", layers: [id], fields: { visible: isShown } }),
    }),
    [edit, set],
  );
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(undefined);
    const id = event.dataTransfer.getData(DRAGGED);
    const onto = found(layers, rowAt(event));
    if (!id || !onto || id === onto.id || !found(layers, id)) return;
    // Onto a group's row it goes into the group, on top; onto another it lies just above that one.
    if (onto.kind === "group") edit({ op: "restack", layer: id, group: onto.id, below: null });
    else {
      const { group, above } = beside(layers, onto.id, id);
      edit({ op: "restack", layer: id, group: above ? null : group, below: above });
    }
  };
  return (
    <ul
      className={css.stack}
      aria-label={t("Layers")}
      ref={list}
      style={{ "--sheet": `url(${sheetPicture(state.key, 500)})` } as CSSProperties}
      onPointerOver={(event) => set({ pointed: rowAt(event) || undefined })}
      onPointerLeave={() => set({ pointed: undefined })}
      onDragStart={(event) => event.dataTransfer.setData(DRAGGED, rowAt(event))}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes(DRAGGED)) return;
        event.preventDefault();
        setOver(rowAt(event));
      }}
      onDragLeave={() => setOver(undefined)}
      onDrop={drop}
    >
      {stacked(layers).map(({ layer, depth }) => (
        <StackRow
          key={layer.id}
          id={layer.id}
          name={named(layer, numbers.get(layer.id))}
          kind={kindOf(layer, numbers.get(layer.id))}
          depth={depth}
          isSelected={isSelected.has(layer.id)}
          isHidden={layer.visible === false}
          isLocked={Boolean(layer.place_locked)}
          isOver={over === layer.id}
          crop={cropOf(state, layer)}
          on={on}
        />
      ))}
      {!layers.length && <li className={css.nothing}>{t("This sheet is empty. Draw an opening (R).")}</li>}
    </ul>
  );
}

/** The layer whose row an event came to. */
const rowAt = ({ target }: SyntheticEvent) =>
  (target instanceof Element && target.closest<HTMLElement>("[data-row]")?.dataset.row) || "";

function kindOf(layer: Layer, number?: number) {
  if (layer.kind === "group") return `${(layer.layers ?? []).length} layers`;
  return layer.kind === "opening" && layer.name && !/^opening \d+$/i.test(layer.name)
    ? `opening ${number ?? ""}`
    : "";
}

/** The group a layer lies in, and what lies just above it there, but for `without`: what is laid there lies below that. */
function beside(
  layers: readonly Layer[],
  id: string,
  without: string,
  group: string | null = null,
): { group: string | null; above: string | null } {
  const here = layers.filter((layer) => layer.id !== without);
  const index = here.findIndex((layer) => layer.id === id);
  if (index >= 0) return { group, above: here[index + 1]?.id ?? null };
  for (const layer of layers)
    if (layer.kind === "group" && found(layer.layers ?? [], id))
      return beside(layer.layers ?? [], id, without, layer.id);
  return { group: null, above: null };
}

/** Where a layer lies in a picture of its sheet, as `RowValues` has it. */
function cropOf({ layout, frames }: View, layer: Layer): string {
  const bleed = layout.bleed_mm ?? 3;
  const [wide, high] = [layout.width_mm + 2 * bleed, layout.height_mm + 2 * bleed];
  const corners =
    layer.kind === "background" ? [] : drawnBy(layer).flatMap((one) => [...(frames.get(one) ?? [])]);
  const box = corners.length
    ? boundsOf(corners)
    : { left: -bleed, top: -bleed, right: wide - bleed, bottom: high - bleed };
  const k = Math.min(WIDE / Math.max(2, box.right - box.left), HIGH / Math.max(2, box.bottom - box.top));
  const [w, h] = [(box.right - box.left) * k, (box.bottom - box.top) * k];
  return [Math.max(3, w), Math.max(3, h), (box.left + bleed) * k, (box.top + bleed) * k, wide * k, high * k]
    .map((length) => length.toFixed(2))
    .join(" ");
}
