import { ActionIcon, Tooltip } from "@mantine/core";
import IconEye from "@tabler/icons-react/icons/IconEye";
import IconEyeOff from "@tabler/icons-react/icons/IconEyeOff";
import IconLock from "@tabler/icons-react/icons/IconLock";
import IconLockOpen from "@tabler/icons-react/icons/IconLockOpen";
import { type DragEvent, useEffect, useRef, useState } from "react";
import { sheetPicture } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { boundsOf } from "../geometry/placing";
import { usePicked } from "../ui/usePicked";
import { cornersOf, found, type Layer, named, stacked } from "./layers";
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
  const rows = stacked(layers);
  const numbers = new Map(state.rows.map((row) => [row.opening, row.number]));
  useEffect(() => {
    list.current
      ?.querySelector(`[data-row="${CSS.escape(selected[0] ?? "")}"]`)
      ?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  const fields = (layer: Layer, change: Record<string, unknown>) =>
    edit({ op: "set_fields", layers: [layer.id], fields: change, expect: {} });
  const drop = (event: DragEvent, onto: Layer) => {
    event.preventDefault();
    setOver(undefined);
    const id = event.dataTransfer.getData(DRAGGED);
    if (!id || id === onto.id || !found(layers, id)) return;
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
      aria-label="Layers"
      ref={list}
      onPointerLeave={() => set({ pointed: undefined })}
    >
      {rows.map(({ layer, depth }) => {
        const name = named(layer, numbers.get(layer.id));
        const hidden = layer.visible === false;
        return (
          <li
            key={layer.id}
            data-row={layer.id}
            data-selected={selected.includes(layer.id) || undefined}
            data-hidden={hidden || undefined}
            data-over={over === layer.id || undefined}
            style={{ paddingLeft: 6 + depth * 14 }}
            draggable
            onDragStart={(event) => event.dataTransfer.setData(DRAGGED, layer.id)}
            onDragOver={(event) => {
              if (!event.dataTransfer.types.includes(DRAGGED)) return;
              event.preventDefault();
              setOver(layer.id);
            }}
            onDragLeave={() => setOver(undefined)}
            onDrop={(event) => drop(event, layer)}
            onPointerEnter={() => set({ pointed: layer.id })}
          >
            <Picture state={state} layer={layer} />
            <button
              type="button"
              className={css.rowName}
              aria-pressed={selected.includes(layer.id)}
              onFocus={() => set({ pointed: layer.id })}
              onClick={(event) => {
                const more = event.shiftKey || event.ctrlKey || event.metaKey;
                const rest = selected.filter((id) => id !== layer.id);
                set({
                  selected: more ? (rest.length < selected.length ? rest : [...rest, layer.id]) : [layer.id],
                });
              }}
            >
              {name}
              <small>
                {layer.kind === "opening" && layer.name && !/^opening \d+$/i.test(layer.name)
                  ? `opening ${numbers.get(layer.id) ?? ""}`
                  : ""}
                {layer.kind === "group" ? `${(layer.layers ?? []).length} layers` : ""}
              </small>
            </button>
            <Tooltip label={layer.place_locked ? "Its place is locked" : "Lock its place"}>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label={`Place of ${name} locked`}
                aria-pressed={!!layer.place_locked}
                onClick={() => fields(layer, { place_locked: !layer.place_locked })}
              >
                {layer.place_locked ? (
                  <IconLock size={14} />
                ) : (
                  <IconLockOpen size={14} className={css.faint} />
                )}
              </ActionIcon>
            </Tooltip>
            <Tooltip label={hidden ? "Show it" : "Hide it"}>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label={`${name} shown`}
                aria-pressed={!hidden}
                onClick={() => fields(layer, { visible: hidden })}
              >
                {hidden ? <IconEyeOff size={14} /> : <IconEye size={14} className={css.faint} />}
              </ActionIcon>
            </Tooltip>
          </li>
        );
      })}
      {!rows.length && <li className={css.nothing}>Nothing lies on this sheet yet. Draw an opening (R).</li>}
    </ul>
  );
}

/** The group a layer lies in, and what lies just above it there, but for `without`: what is laid there lies below that. */
function beside(
  layers: readonly Layer[],
  id: string,
  without: string,
  group: string | null = null,
): { group: string | null; above: string | null } {
  const here = layers.filter((layer) => layer.id !== without);
  const at = here.findIndex((layer) => layer.id === id);
  if (at >= 0) return { group, above: here[at + 1]?.id ?? null };
  for (const layer of layers)
    if (layer.kind === "group" && found(layer.layers ?? [], id))
      return beside(layer.layers ?? [], id, without, layer.id);
  return { group: null, above: null };
}

/** What is seen where a layer lies: a part of the sheet's own picture. */
function Picture({ state, layer }: { state: View; layer: Layer }) {
  const { layout, frames } = state;
  const bleed = layout.bleed_mm ?? 3;
  const [wide, high] = [layout.width_mm + 2 * bleed, layout.height_mm + 2 * bleed];
  const corners = layer.kind === "background" ? [] : cornersOf(layout.layers, frames, [layer.id]);
  const box = corners.length
    ? boundsOf(corners)
    : { left: -bleed, top: -bleed, right: wide - bleed, bottom: high - bleed };
  const k = Math.min(WIDE / Math.max(2, box.right - box.left), HIGH / Math.max(2, box.bottom - box.top));
  return (
    <span className={css.small} aria-hidden="true">
      <span
        style={{
          width: Math.max(3, (box.right - box.left) * k),
          height: Math.max(3, (box.bottom - box.top) * k),
          backgroundImage: `url(${sheetPicture(state.key, 500)})`,
          backgroundSize: `${wide * k}px ${high * k}px`,
          backgroundPosition: `${-(box.left + bleed) * k}px ${-(box.top + bleed) * k}px`,
        }}
      />
    </span>
  );
}
