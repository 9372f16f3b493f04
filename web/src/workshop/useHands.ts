/** The pointer in the workshop: drawing, picking, moving, sizing, turning; what is drawn meanwhile, and what is kept. */
import { type PointerEvent, type RefObject, useRef } from "react";
import type { NewLayer } from "../api/client";
import { type Said, useChange } from "../editing/changes";
import { jobStore } from "../editing/jobs";
import { drawnTurn } from "../editing/snapping";
import type { View } from "../editing/view";
import { shifting, stretching, turning } from "../geometry/motions";
import { apply, boundsOf, inverse, type Matrix, type Point } from "../geometry/placing";
import {
  type Box,
  boxAbout,
  cornersOf,
  cutAlong,
  drawnBy,
  found,
  freshId,
  freshIn,
  insideOf,
  type Layer,
  madeBy,
  outermost,
  rounded,
  simplified,
  stacked,
  stemOf,
} from "./layers";
import { boxesOf, drawnOver } from "./lines";
import { pickArea } from "./picking";
import { atSize, type Handle, heldOf, pulledBox, sized, sizing, turnBetween } from "./pulling";
import { type Help, type Pull, useTable } from "./table";

const NEAR_PX = 7;
const STILL_PX = 3;
export const INK = "#2b4a5e";

export function useHands(view: View, svg: RefObject<SVGSVGElement | null>, screenFromPage: Matrix) {
  const { edit, editLater } = useChange(view);
  const set = useTable((table) => table.set);
  const setPull = (pull: Pull | undefined) => set({ pull });
  const setHelp = (help: Help | undefined) => set({ help });
  const began = useRef<Point>(undefined);
  const { layers } = view.layout;
  const scale = screenFromPage[0] ?? 1;
  const free = (event: { altKey: boolean }) => event.altKey || !useTable.getState().snap;

  const pageOf = (event: { clientX: number; clientY: number }): Point => {
    const frame = svg.current?.getBoundingClientRect();
    return apply(inverse(screenFromPage), [
      event.clientX - (frame?.left ?? 0),
      event.clientY - (frame?.top ?? 0),
    ]);
  };
  const others = (but: readonly string[]): Box[] => {
    const mine = new Set(but.flatMap((id) => drawnBy(found(layers, id) ?? ({ id } as Layer))));
    return [...view.frames].flatMap(([id, frame]) => (mine.has(id) ? [] : [boundsOf(frame)]));
  };
  const drawn = (box: Box, but: readonly string[], event: PointerEvent): Point => {
    if (free(event)) {
      setHelp(undefined);
      return [0, 0];
    }
    const { by, lines, gaps } = drawnOver(box, others(but), boxesOf(view.layout), NEAR_PX / scale);
    setHelp({ lines, gaps });
    return by;
  };
  const onPoint = (at: Point, but: readonly string[], event: PointerEvent): Point => {
    const by = drawn({ left: at[0], right: at[0], top: at[1], bottom: at[1] }, but, event);
    return [at[0] + by[0], at[1] + by[1]];
  };
  /** Sends an edit; what it made is selected once it is there, beside what is to stay so. */
  const make = (said: Said, also: readonly string[] = []) => {
    const before = layers;
    edit(said, {
      onStored: () => {
        const now = jobStore(view.id).viewOf(view.sheet.id);
        const fresh = now && freshIn(now.layout.layers, before);
        if (fresh?.length) set({ selected: [...also, ...fresh] });
      },
    });
  };
  /** Copies what is selected, columns and rows of it: the copies are selected at once, with what was copied or without. */
  const repeat = (
    layers: readonly string[],
    how: { columns: number; rows: number; step_mm: [number, number]; on_top?: boolean },
    also: readonly string[] = [],
  ) => {
    const now = jobStore(view.id).viewOf(view.sheet.id)?.layout.layers ?? [];
    const chosen = stacked(now).filter(({ layer }) => layers.includes(layer.id));
    const tops = chosen.map(({ layer }) => layer).reverse();
    const copies = Array.from({ length: how.columns * how.rows - 1 }, () =>
      tops.map((layer) => [layer, ...insideOf(layer)].map((one) => freshId(stemOf(one.id)))),
    );
    edit({ op: "repeat", layers: tops.map(({ id }) => id), names: copies.flat(2), ...how });
    set({ selected: [...also, ...copies.flat().flatMap(([top]) => top ?? [])] });
  };
  const add = (layer: NewLayer) => {
    edit({ op: "add_layers", layers: [layer] });
    // What is typed next goes into a box for words.
    set({ selected: [layer.id], tool: "select", writing: layer.kind === "text" ? layer.id : undefined });
  };
  const end = () => {
    setPull(undefined);
    setHelp(undefined);
    began.current = undefined;
  };

  /** The pointer goes down on the sheet, or on a layer. */
  const down = (event: PointerEvent, layer?: Layer) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    const { tool, selected, pull } = useTable.getState();
    const at = pageOf(event);
    began.current = [event.clientX, event.clientY];
    if (tool === "area") pickArea(view, at, { edit, editLater }, (id) => set({ selected: [id] }));
    else if (tool === "freehand") setPull({ kind: "trace", points: [at] });
    else if (tool === "polygon") {
      const to = onPoint(at, [], event);
      const points = pull?.kind === "cut" ? pull.points : [];
      const first = points[0];
      const closes =
        first && points.length > 2 && Math.hypot(first[0] - to[0], first[1] - to[1]) * scale < 10;
      if (closes) {
        add(cutAlong(points));
        end();
      } else setPull({ kind: "cut", points: [...points, to], to });
    } else if (tool !== "select") {
      const from = onPoint(at, [], event);
      setPull({ kind: "draw", from, box: pulledBox(from, from) });
    } else if (layer) {
      // A click takes a whole group; one on what is selected already leaves the selection as it is.
      const id = selected.includes(layer.id) ? layer.id : outermost(layers, layer.id);
      const more = event.shiftKey || event.ctrlKey || event.metaKey;
      let now = selected;
      if (more && !selected.includes(id)) now = [...selected, id];
      else if (event.shiftKey) now = selected.filter((one) => one !== id);
      else if (!selected.includes(id)) now = [id];
      set({ selected: now });
      const fixed = now.some((one) => found(layers, one)?.place_locked);
      if (now.length && !fixed)
        setPull({ kind: "move", from: at, by: [0, 0], copy: event.ctrlKey || event.metaKey });
    } else {
      if (!event.shiftKey) set({ selected: [] });
      setPull({ kind: "mark", from: at, box: pulledBox(at, at) });
    }
  };
  const take = (event: PointerEvent, handle: Handle | "turn") => {
    if (event.button !== 0) return;
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    began.current = [event.clientX, event.clientY];
    const held = heldOf(layers, view.frames, useTable.getState().selected);
    if (!held) return;
    if (handle === "turn") setPull({ kind: "turn", from: pageOf(event), turn: 0 });
    else setPull({ kind: "size", handle, by: shifting([0, 0]), says: [held.width, held.height] });
  };
  const move = (event: PointerEvent) => {
    const { pull, selected, ratio } = useTable.getState();
    if (!pull) return;
    const at = pageOf(event);
    if (pull.kind === "trace") setPull({ kind: "trace", points: [...pull.points, at] });
    else if (pull.kind === "cut") setPull({ ...pull, to: onPoint(at, [], event) });
    else if (pull.kind === "draw") {
      const square = event.shiftKey ? 1 : ratio;
      setPull({ ...pull, box: pulledBox(pull.from, onPoint(at, [], event), square) });
    } else if (pull.kind === "mark") setPull({ ...pull, box: pulledBox(pull.from, at) });
    else if (pull.kind === "move") {
      let by: Point = [at[0] - pull.from[0], at[1] - pull.from[1]];
      if (event.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
      const box = boxAbout(layers, view.frames, selected);
      if (box) {
        const there = {
          left: box.left + by[0],
          right: box.right + by[0],
          top: box.top + by[1],
          bottom: box.bottom + by[1],
        };
        const more = drawn(there, pull.copy ? [] : selected, event);
        by = [by[0] + (by[0] ? more[0] : 0), by[1] + (by[1] ? more[1] : 0)];
      }
      setPull({ ...pull, by });
    } else {
      const held = heldOf(layers, view.frames, selected);
      if (!held) return;
      if (pull.kind === "turn") {
        const turn = drawnTurn(turnBetween(held.middle, pull.from, at), free(event));
        setPull({ ...pull, turn: event.shiftKey ? Math.round(turn / 15) * 15 : turn });
        return;
      }
      const upright = held.across[1] === 0;
      const to = upright ? onPoint(at, selected, event) : at;
      const kept = event.shiftKey ? held.width / held.height : held.alone ? ratio : undefined;
      const now = sized(held, pull.handle, to, kept);
      setPull({ ...pull, by: stretching(held, now), says: [now.width, now.height] });
    }
  };
  const up = (event: PointerEvent) => {
    const { pull, selected, tool } = useTable.getState();
    if (!pull || pull.kind === "cut") return;
    const still =
      began.current &&
      Math.hypot(event.clientX - began.current[0], event.clientY - began.current[1]) < STILL_PX;
    if (pull.kind === "draw" && !still) {
      const { box } = pull;
      if (box.right - box.left >= 1 && box.bottom - box.top >= 1) add(madeBy(tool, box, INK));
    } else if (pull.kind === "trace") {
      const points = simplified(pull.points, 1.2 / scale);
      if (points.length > 2) add(cutAlong(points));
    } else if (pull.kind === "mark" && !still) {
      const { box } = pull;
      const inside = layers
        .filter((layer) => {
          const corners = cornersOf(layers, view.frames, [layer.id]);
          const about = corners.length && layer.visible !== false ? boundsOf(corners) : undefined;
          return (
            about &&
            about.left >= box.left &&
            about.right <= box.right &&
            about.top >= box.top &&
            about.bottom <= box.bottom
          );
        })
        .map((layer) => layer.id);
      set({ selected: [...new Set([...(event.shiftKey ? selected : []), ...inside])] });
    } else if (pull.kind === "move" && !still) {
      const by = rounded(pull.by);
      if (pull.copy) repeat(selected, { columns: 2, rows: 1, step_mm: by, on_top: true });
      else edit({ op: "carry", layers: selected, by });
    } else if (pull.kind === "size" && !still) {
      const [width, height] = pull.says;
      editLater((now) => {
        const held = heldOf(now.layout.layers, now.frames, selected);
        return held && sizing(held, atSize(held, pull.handle, width, height));
      });
    } else if (pull.kind === "turn" && pull.turn) {
      const middle = heldOf(layers, view.frames, selected)?.middle;
      const about = middle && rounded(middle);
      edit({ op: "carry", layers: selected, turn_deg: pull.turn, about });
    }
    end();
  };
  /** Lays what the tool in hand makes in the middle of the sheet, for those who work by keys. */
  const lay = () => {
    const { tool } = useTable.getState();
    const { width_mm, height_mm } = view.layout;
    if (["select", "polygon", "freehand"].includes(tool)) return;
    const [x, y] = [width_mm / 2, height_mm / 2];
    const box = {
      left: x - width_mm / 6,
      right: x + width_mm / 6,
      top: y - height_mm / 6,
      bottom: y + height_mm / 6,
    };
    add(madeBy(tool, box, INK));
  };
  /** Takes a pull back, or ends a polygon: closed when there is enough of it. */
  const cancel = (close = false) => {
    const { pull } = useTable.getState();
    if (close && pull?.kind === "cut" && pull.points.length > 2) add(cutAlong(pull.points));
    end();
  };

  return { down, take, move, up, cancel, lay, make, repeat, add };
}

/** Where what is selected lies while it is pulled; undefined when it is not. */
export function pullMatrix(
  pull: Pull | undefined,
  view: View,
  selected: readonly string[],
): Matrix | undefined {
  if (pull?.kind === "move") return shifting(pull.by);
  if (pull?.kind === "size") return pull.by;
  if (pull?.kind === "turn")
    return turning(heldOf(view.layout.layers, view.frames, selected)?.middle ?? pull.from, pull.turn);
  return undefined;
}
