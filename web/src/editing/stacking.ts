/** Layers that an edit on its way lays on the sheet, takes off it, copies or moves in its stack: seen before they are stored. */
import type { Layout, Row, StoredEdit } from "../api/client";
import { moved, shifting } from "../geometry/motions";
import { apply, boundsOf, type Matrix, multiply, type Point } from "../geometry/placing";
import { isShaped, type Layer } from "./relaid";

type Of<Op extends StoredEdit["op"]> = Extract<StoredEdit, { op: Op }>;

interface Laid {
  layout: Layout;
  rows: Row[];
  frames: ReadonlyMap<string, readonly Point[]>;
  /** Layers that no picture of the sheet shows yet. */
  coming?: readonly string[];
}

/** The view with layers laid on its sheet. */
export function addLayers<V extends Laid>(view: V, edit: Of<"add_layers">): V {
  // What has no place of its own, such as an echo, is placed by the server.
  if (!walkLayers(edit.layers).every((layer) => layer.kind === "group" || placeOf(layer))) return view;
  const layers = insertLayers(view.layout.layers, edit.layers, edit.group, edit.below);
  const fresh = walkLayers(edit.layers);
  const frames = new Map(view.frames);
  const rows = [...view.rows];
  for (const layer of fresh) {
    const place = placeOf(layer);
    if (!place) continue;
    frames.set(layer.id, place.frame);
    if (layer.kind === "opening") rows.push({ ...emptyRow(view, rows, layer.id), ...place.row });
  }
  const coming = [...(view.coming ?? []), ...fresh.map(({ id }) => id)];
  return { ...view, layout: { ...view.layout, layers }, frames, rows, coming };
}

/** The view with copies of layers, where an edit names them. */
export function repeatLayers<V extends Laid>(view: V, edit: Of<"repeat">): V {
  const meant = new Set(edit.layers);
  const stack = walkLayers(view.layout.layers).filter(({ id }) => meant.has(id));
  const each = walkLayers(stack).map(({ id }) => id);
  const { columns = 1, rows: down = 1, names = [], step_mm = [0, 0] } = edit;
  if (names.length !== (columns * down - 1) * each.length) return view;
  const frames = new Map(view.frames);
  const rows = [...view.rows];
  const copies: Layer[] = [];
  for (let n = 1; n < columns * down; n += 1) {
    const by: Point = [(n % columns) * step_mm[0], Math.floor(n / columns) * step_mm[1]];
    const named = new Map(each.map((id, k) => [id, names[(n - 1) * each.length + k] as string]));
    copies.push(...stack.map((layer) => copyLayer(layer, named, by)));
    for (const [id, name] of named) {
      const frame = view.frames.get(id);
      if (frame) frames.set(name, moved(frame, shifting(by)));
      const row = view.rows.find(({ opening }) => opening === id);
      if (row)
        rows.push({
          ...emptyRow(view, rows, name),
          width_mm: row.width_mm,
          height_mm: row.height_mm,
          outline: row.outline,
          shape: moved(row.shape, shifting(by)),
          page_from_opening: multiply(shifting(by), row.page_from_opening),
        });
    }
  }
  const upper = stack.at(-1)?.id ?? "";
  const beside = siblingsOf(view.layout.layers, upper);
  const under = edit.on_top ? (beside.at(-1)?.id ?? upper) : upper;
  const layers = insertAbove(view.layout.layers, under, copies);
  return {
    ...view,
    layout: { ...view.layout, layers },
    frames,
    rows,
    coming: [...(view.coming ?? []), ...names],
  };
}

/** The view without some layers, and without echoes of openings that are gone with them. */
export function removeLayers<V extends Laid>(view: V, ids: readonly string[]): V {
  const meant = new Set(ids);
  const all = walkLayers(view.layout.layers);
  const gone = new Set(walkLayers(all.filter(({ id }) => meant.has(id))).map(({ id }) => id));
  for (const layer of all) if (layer.kind === "echo" && gone.has(layer.of)) gone.add(layer.id);
  const layers = dropLayers(view.layout.layers, gone);
  const frames = new Map([...view.frames].filter(([id]) => !gone.has(id)));
  const rows = view.rows
    .filter(({ opening }) => !gone.has(opening))
    .map((row, n) => ({ ...row, number: n + 1 }));
  return { ...view, layout: { ...view.layout, layers }, frames, rows };
}

/** The view with a layer elsewhere in the stack. */
export function restackLayer<V extends Laid>(view: V, edit: Of<"restack">): V {
  const layer = walkLayers(view.layout.layers).find(({ id }) => id === edit.layer);
  if (!layer) return view;
  const rest = dropLayers(view.layout.layers, new Set([layer.id]));
  return { ...view, layout: { ...view.layout, layers: insertLayers(rest, [layer], edit.group, edit.below) } };
}

/** All layers and groups, bottom of the stack first, a group before what lies in it. */
const walkLayers = (layers: readonly Layer[]): Layer[] =>
  layers.flatMap((layer) => [layer, ...(layer.kind === "group" ? walkLayers(layer.layers ?? []) : [])]);

const inGroups = (layers: readonly Layer[], change: (inner: Layer[], group: string) => Layer[]): Layer[] =>
  layers.map((layer) =>
    layer.kind === "group"
      ? { ...layer, layers: inGroups(change(layer.layers ?? [], layer.id), change) }
      : layer,
  );

const dropLayers = (layers: readonly Layer[], gone: ReadonlySet<string>): Layer[] => {
  const stay = (some: readonly Layer[]) => some.filter(({ id }) => !gone.has(id));
  return inGroups(stay(layers), stay);
};

/** Layers laid into a group or not, just below one there, or on top. */
function insertLayers(
  layers: readonly Layer[],
  fresh: readonly Layer[],
  group?: string | null,
  below?: string | null,
): Layer[] {
  const put = (some: readonly Layer[], here: boolean): Layer[] => {
    const index = some.findIndex(({ id }) => id === below);
    if (index >= 0) return [...some.slice(0, index), ...fresh, ...some.slice(index)];
    return here && !below ? [...some, ...fresh] : [...some];
  };
  return inGroups(put(layers, !group), (inner, id) => put(inner, id === group));
}

/** The layers among which one lies. */
const siblingsOf = (layers: readonly Layer[], id: string): readonly Layer[] =>
  walkLayers(layers).flatMap((layer) =>
    layer.kind === "group" && layer.layers?.some((inner) => inner.id === id) ? [layer.layers] : [],
  )[0] ?? layers;

/** Layers laid just above one. */
function insertAbove(layers: readonly Layer[], under: string, fresh: readonly Layer[]): Layer[] {
  const put = (some: readonly Layer[]) =>
    some.flatMap((layer) => (layer.id === under ? [layer, ...fresh] : [layer]));
  return put(inGroups(layers, put));
}

/** A copy of a layer elsewhere; what lies on points of the page waits for the server in its own figures. */
function copyLayer(layer: Layer, named: ReadonlyMap<string, string>, by: Point): Layer {
  const shift = (of: object) =>
    "centre" in of ? { ...of, centre: apply(shifting(by), of.centre as Point) } : of;
  const copy = { ...shift(layer), id: named.get(layer.id) ?? layer.id } as Layer;
  if (copy.kind === "group")
    return { ...copy, layers: (copy.layers ?? []).map((one) => copyLayer(one, named, by)) };
  if (copy.kind === "echo") return { ...copy, of: named.get(copy.of) ?? copy.of };
  if (isShaped(copy)) return { ...copy, surface: shift(copy.surface) } as Layer;
  return copy;
}

/** An opening with nothing in it, numbered after all others. */
const emptyRow = (view: Laid, rows: readonly Row[], opening: string): Row =>
  ({
    opening,
    number: Math.max(0, ...rows.map(({ number }) => number)) + 1,
    reading: rows.length + 1,
    name: walkLayers(view.layout.layers).find(({ id }) => id === opening)?.name ?? "",
    photo: "",
    placement: null,
    distortion: 1,
    pinned: false,
    span: "",
    span_outline: [],
    status: "order",
  }) as unknown as Row;

/** Where a layer lies that has a middle, a turn and a size: its frame, and the outline where it is an opening. */
function placeOf(layer: Layer): { frame: Point[]; row: Partial<Row> } | undefined {
  const lies = (isShaped(layer) ? layer.surface : layer) as { centre?: Point; turn_deg?: number };
  const outline = isShaped(layer) ? outlineOf(layer.outline as Outline) : boxOf(layer as Partial<Sides>);
  if (!lies.centre || !outline?.length) return undefined;
  const angle = ((lies.turn_deg ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const onto: Matrix = [c, s, lies.centre[0], -s, c, lies.centre[1], 0, 0, 1];
  const { left, top, right, bottom } = boundsOf(outline);
  const corners: Point[] = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
  return {
    frame: moved(corners, onto),
    row: {
      width_mm: right - left,
      height_mm: bottom - top,
      outline: outline.map(([x, y]) => [x, y]),
      shape: moved(outline, onto),
      page_from_opening: [...onto],
    },
  };
}

interface Sides {
  width_mm: number;
  height_mm: number;
}
type Outline = { kind: string; d?: string } & Partial<Sides>;

const boxOf = ({ width_mm, height_mm }: Partial<Sides>): Point[] | undefined => {
  if (!width_mm || !height_mm) return undefined;
  const [x, y] = [width_mm / 2, height_mm / 2];
  return [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
  ];
};

const STEPS = 48; // corners that stand for an ellipse

/** The corners of an outline about its middle: a path's as far as it is of straight lines or nearly so. */
function outlineOf(outline: Outline): Point[] | undefined {
  if (outline.kind === "path") {
    const figures = (outline.d?.match(/-?\d*\.?\d+(?:e[-+]?\d+)?/gi) ?? []).map(Number);
    return figures.flatMap((x, n): Point[] => (n % 2 ? [] : [[x, figures[n + 1] ?? 0]]));
  }
  if (outline.kind !== "ellipse") return boxOf(outline);
  const { width_mm = 0, height_mm = 0 } = outline;
  return Array.from({ length: STEPS }, (_, n) => {
    const angle = (2 * Math.PI * n) / STEPS;
    return [(width_mm / 2) * Math.cos(angle), (height_mm / 2) * Math.sin(angle)];
  });
}
