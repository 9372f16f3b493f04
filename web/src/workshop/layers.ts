/** Layers of a sheet as the workshop handles them: where they lie, which are meant, which are new. Pure. */
import type { NewLayer } from "../api/client";
import { isShaped, type Layer } from "../editing/relaid";
import type { View } from "../editing/view";
import { boundsOf, type Point } from "../geometry/placing";
import { t } from "../words";
import type { Tool } from "./tool";

export { isShaped, type Layer };
export type Box = ReturnType<typeof boundsOf>;
type Frames = View["frames"];

/** All layers and groups, top of the stack first, each with how deep it lies. */
export function stacked(layers: readonly Layer[], depth = 0): { layer: Layer; depth: number }[] {
  return [...layers]
    .reverse()
    .flatMap((layer) => [
      { layer, depth },
      ...(layer.kind === "group" ? stacked(layer.layers ?? [], depth + 1) : []),
    ]);
}

/** What lies in a group, bottom first, a group within before what lies in that. */
export const insideOf = (layer: Layer): Layer[] =>
  layer.kind === "group" ? (layer.layers ?? []).flatMap((inner) => [inner, ...insideOf(inner)]) : [];

/** A layer or group, by its id. */
export const found = (layers: readonly Layer[], id: string): Layer | undefined =>
  stacked(layers).find(({ layer }) => layer.id === id)?.layer;

/** The outermost group that a layer lies in, or the layer itself. */
export const outermost = (layers: readonly Layer[], id: string): string =>
  layers.find((layer) => layer.kind === "group" && found(layer.layers ?? [], id))?.id ?? id;

/** Ids of the layers that a layer or group draws. */
export const drawnBy = (layer: Layer): string[] =>
  layer.kind === "group" ? (layer.layers ?? []).flatMap(drawnBy) : [layer.id];

/** Corners of all that is drawn by some layers. */
export const cornersOf = (layers: readonly Layer[], frames: Frames, ids: readonly string[]): Point[] =>
  ids.flatMap((id) => {
    const layer = found(layers, id);
    return layer ? drawnBy(layer).flatMap((one) => [...(frames.get(one) ?? [])]) : [];
  });

/** The box about some layers, or undefined where none has a place. */
export function boxAbout(layers: readonly Layer[], frames: Frames, ids: readonly string[]): Box | undefined {
  const corners = cornersOf(layers, frames, ids);
  return corners.length ? boundsOf(corners) : undefined;
}

/** How far a layer is turned on the page, degrees. */
export function turnOf(layer: Layer): number {
  if (isShaped(layer)) return "turn_deg" in layer.surface ? (layer.surface.turn_deg ?? 0) : 0;
  return "turn_deg" in layer ? (layer.turn_deg ?? 0) : 0;
}

/** Whether a layer's width and height can be set as they stand: a box, or an outline that has both. */
export const hasSides = (layer: Layer) =>
  isShaped(layer)
    ? layer.surface.kind === "flat" &&
      layer.outline.kind !== "path" &&
      !layer.surface.skew_deg &&
      (layer.surface.stretch_x ?? 1) === 1 &&
      (layer.surface.stretch_y ?? 1) === 1
    : layer.kind === "text" || layer.kind === "note" || layer.kind === "ornament" || layer.kind === "overlay";

/** The fields that give a layer a place and size. */
export function placedAt(
  layer: Layer,
  centre: Point,
  width: number,
  height: number,
): Record<string, unknown> {
  const [w, h] = [round(width), round(height)];
  const at = centre.map(round);
  return isShaped(layer)
    ? { "surface.centre": at, "outline.width_mm": w, "outline.height_mm": h }
    : { centre: at, width_mm: w, height_mm: h };
}

/** Lengths are written to a millionth of a millimetre. */
export const round = (mm: number) => Math.round(mm * 1e6) / 1e6;
export const rounded = ([x, y]: Point): [number, number] => [round(x), round(y)];

/** An id that nothing ever had: what is said of a layer that is gone waits for that one, and must find no other. */
export const freshId = (stem: string) => `${stem}-${crypto.randomUUID().slice(0, 8)}`;

/** What a copy's id begins with: that of what it is copied from, without what made that one unlike others. */
export const stemOf = (id: string) => id.replace(/-[0-9a-f]{8}$|-\d+$/, "").slice(0, 50);

/** Ids in one tree of layers that were not in another; of a new group, the group alone. */
export function freshIn(layers: readonly Layer[], before: readonly Layer[]): string[] {
  const known = new Set(stacked(before).map(({ layer }) => layer.id));
  return layers.flatMap((layer) =>
    known.has(layer.id) ? (layer.kind === "group" ? freshIn(layer.layers ?? [], before) : []) : [layer.id],
  );
}

/** A name for a layer that has none of its own. */
export function named(layer: Layer, number: number | undefined): string {
  if (layer.name) return layer.name;
  if (layer.kind === "opening") return t("Opening {number}", { number: number ?? "" }).trim();
  if (layer.kind === "text") return layer.text.split("\n")[0]?.slice(0, 40) || t("Words");
  if (layer.kind === "note") return layer.text.split("\n")[0]?.slice(0, 40) || t("Note");
  const names: Partial<Record<Layer["kind"], string>> = {
    fill: t("Shape"),
    background: t("Background"),
    echo: t("Echo"),
    ornament: t("Ornament"),
    overlay: t("Picture"),
    page: "A sheet",
    group: t("Group"),
  };
  return names[layer.kind] ?? layer.kind;
}

const surface = (centre: Point) => ({ kind: "flat" as const, centre: rounded(centre), turn_deg: 0 });

/** The layer that a tool makes of a box pulled on the page, mm. */
export function madeBy(tool: Tool, box: Box, ink: string): NewLayer {
  const [w, h] = [round(box.right - box.left), round(box.bottom - box.top)];
  const centre: Point = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const rectangle = { kind: "rectangle" as const, width_mm: w, height_mm: h, radius_mm: 0 };
  const place = { centre: rounded(centre), width_mm: w, height_mm: h, turn_deg: 0 };
  const id = (stem: string) => ({ id: freshId(stem), name: "" });
  const makers: Partial<Record<Tool, () => NewLayer>> & { rectangle: () => NewLayer } = {
    rectangle: () => ({ ...id("opening"), kind: "opening", outline: rectangle, surface: surface(centre) }),
    rounded: () => ({
      ...id("opening"),
      kind: "opening",
      outline: { ...rectangle, radius_mm: round(Math.min(w, h) / 8) },
      surface: surface(centre),
    }),
    ellipse: () => ({
      ...id("opening"),
      kind: "opening",
      outline: { kind: "ellipse", width_mm: w, height_mm: h },
      surface: surface(centre),
    }),
    fill: () => ({ ...id("shape"), kind: "fill", outline: rectangle, surface: surface(centre), colour: ink }),
    words: () => ({
      ...id("words"),
      kind: "text",
      text: t("Words"),
      sample: true,
      ...place,
      size_pt: Math.max(6, Math.min(72, Math.round(h * 1.6))),
      colour: ink,
    }),
    dates: () => ({
      ...id("dates"),
      kind: "dates",
      ...place,
      size_pt: Math.max(5, Math.min(40, Math.round((h / 8) * 1.1))),
      dates_pt: Math.max(4, Math.min(10, Math.round(h / 16))),
    }),
    note: () => ({
      ...id("note"),
      kind: "note",
      text: t("A note to whoever fills this"),
      ...place,
      size_pt: 9,
    }),
  };
  return (makers[tool] ?? makers.rectangle)();
}

/** An opening cut along points on the page. */
export function cutAlong(points: readonly Point[]): NewLayer {
  const box = boundsOf(points);
  const centre: Point = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const d = `M${points.map(([x, y]) => `${round(x - centre[0])} ${round(y - centre[1])}`).join("L")}Z`;
  return {
    id: freshId("opening"),
    name: "",
    kind: "opening",
    outline: { kind: "path", d },
    surface: surface(centre),
  };
}

/** A line drawn by hand, with as few points as keep it within `off` mm (Ramer 1972, Douglas and Peucker 1973). */
export function simplified(points: readonly Point[], off: number): Point[] {
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length < 3 || !first || !last) return [...points];
  const [dx, dy] = [last[0] - first[0], last[1] - first[1]];
  const long = Math.hypot(dx, dy);
  let [far, at] = [0, 0];
  points.forEach(([x, y], n) => {
    const away = long
      ? Math.abs(dx * (first[1] - y) - dy * (first[0] - x)) / long
      : Math.hypot(x - first[0], y - first[1]);
    if (away > far) [far, at] = [away, n];
  });
  if (far <= off) return [first, last];
  return [...simplified(points.slice(0, at + 1), off).slice(0, -1), ...simplified(points.slice(at), off)];
}
