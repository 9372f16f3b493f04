/** Where layers lie once an edit that is on its way is stored: worked out as the server does, so that it is seen at once. */
import type { Layout, Row, StoredEdit } from "../api/client";
import { moved, planeOf, scaling, shifting, stretching, turning } from "../geometry/motions";
import { apply, boundsOf, type Matrix, multiply, type Point } from "../geometry/placing";

export type Layer = Layout["layers"][number];
type Carry = Extract<StoredEdit, { op: "carry" }>;
type Fields = Record<string, unknown>;

/** What has an outline and lies on a surface. */
export const isShaped = (layer: Layer) =>
  layer.kind === "opening" || layer.kind === "fill" || layer.kind === "page";

/** A sheet as far as it matters here: its layers, where its openings lie, and the corners of each layer's own box. */
interface Laid {
  layout: Layout;
  rows: Row[];
  frames: ReadonlyMap<string, readonly Point[]>;
}

/** Fields that give a layer its place. */
const PLACE = /^(surface\.)?(centre|turn_deg)$|^(outline\.)?(width|height)_mm$/;

/** How a layer moves on the page, and how much larger its outline becomes along its own axes. */
interface Move {
  by: Matrix;
  own: Point;
  /** Which axis of its own is turned about. */
  mirror?: Carry["mirror"];
}

/** The layers as they lie after an edit that carries some of them. */
export function carried<V extends Laid>(view: V, edit: Carry): V {
  const layers = drawn(view.layout.layers, new Set(edit.layers));
  const shapes = new Map(view.rows.map((row) => [row.opening, row.shape]));
  const corners = layers.flatMap(({ id }) => [...(shapes.get(id) ?? view.frames.get(id) ?? [])]);
  if (!corners.length) return view;
  const box = boundsOf(corners);
  const middle: Point = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const about = edit.about ?? middle;
  const { by = [0, 0], turn_deg = 0, mirror, scale = [1, 1], skew_deg = 0 } = edit;
  const flip = scaling(about, [mirror === "left_right" ? -1 : 1, mirror === "top_bottom" ? -1 : 1], 0);
  const larger = multiply(scaling(about, scale, skew_deg), flip);
  const all = multiply(shifting(by), multiply(turning(about, turn_deg), larger));
  const moves = new Map(
    layers.map((layer): [string, Move] => {
      const turned = Math.round(turnedBy(layer) / 90) % 2 !== 0;
      const scaling: Point = onPoints(layer) ? [1, 1] : turned ? [scale[1], scale[0]] : [scale[0], scale[1]];
      return [layer.id, { by: all, own: scaling, mirror }];
    }),
  );
  const laid = mapped(view.layout.layers, (layer) => {
    const move = moves.get(layer.id);
    return move ? layerMoved(layer, move, turn_deg) : layer;
  });
  return { ...relaid(view, moves), layout: { ...view.layout, layers: laid } };
}

/** A layer whose place is a middle, a turn and a size, after a move; one that lies on points waits for the server. */
function layerMoved(layer: Layer, { by, own, mirror }: Move, turn: number): Layer {
  const place = (of: object) => {
    if (!("centre" in of)) return of;
    const turned = (mirror ? -turnedBy(layer) : turnedBy(layer)) + turn;
    return { ...of, centre: apply(by, of.centre as Point), turn_deg: turned };
  };
  const sides = (of: object) =>
    "width_mm" in of && "height_mm" in of
      ? { ...of, width_mm: Number(of.width_mm) * own[0], height_mm: Number(of.height_mm) * own[1] }
      : of;
  const { surface, outline } = layer as { surface?: object; outline?: object };
  if (surface && outline)
    return {
      ...layer,
      surface: place(surface),
      outline: onPoints(layer) ? outline : sides(outline),
    } as Layer;
  return sides(place(layer)) as Layer;
}

/** The layers as they lie after fields of theirs were set; those whose place is not among the fields stay. */
export function placedBy<V extends Laid>(view: V, ids: readonly string[], fields: Fields): V {
  if (!Object.keys(fields).some((name) => PLACE.test(name))) return view;
  const moves = drawn(view.layout.layers, new Set(ids)).flatMap((layer): [string, Move][] => {
    const move = moveOf(layer, view.frames.get(layer.id), fields);
    return move ? [[layer.id, move]] : [];
  });
  return moves.length ? relaid(view, new Map(moves)) : view;
}

/** How a layer moves that is given fields of its place; undefined where the server has to work that out. */
function moveOf(layer: Layer, frame: readonly Point[] | undefined, fields: Fields): Move | undefined {
  const shaped = isShaped(layer);
  const place = shaped ? (layer.surface.kind === "flat" ? layer.surface : undefined) : layer;
  const plane = planeOf(frame);
  if (!place || !plane) return undefined;
  const sides = (shaped ? layer.outline : layer) as unknown as Fields;
  const fieldOf = (name: string) => fields[shaped ? `surface.${name}` : name];
  const share = (name: string) => {
    const [to, was] = [fields[shaped ? `outline.${name}` : name], sides[name]];
    return typeof to === "number" && typeof was === "number" && was > 0 ? to / was : 1;
  };
  const shares: Point = [share("width_mm"), share("height_mm")];
  const [to, was] = [fieldOf("centre"), (place as unknown as Fields).centre] as (Point | undefined)[];
  const turn = fieldOf("turn_deg");
  const { middle, width, height } = plane;
  const there: Point = to && was ? [middle[0] + to[0] - was[0], middle[1] + to[1] - was[1]] : middle;
  const larger = stretching(plane, { middle: there, width: width * shares[0], height: height * shares[1] });
  const turned = typeof turn === "number" ? turning(there, turn - turnedBy(layer)) : undefined;
  return { by: turned ? multiply(turned, larger) : larger, own: shares };
}

function relaid<V extends Laid>(view: V, moves: ReadonlyMap<string, Move>): V {
  const frames = [...view.frames].map(([id, frame]) => {
    const move = moves.get(id);
    return [id, move ? inOrder(moved(frame, move.by), move.mirror) : frame] as const;
  });
  const rows = view.rows.map((row) => {
    const move = moves.get(row.opening);
    return move ? rowMoved(row, move) : row;
  });
  return { ...view, frames: new Map(frames), rows };
}

/** A place on the page, after a move. Its outline keeps its own axes: what is mirrored is mirrored in them. */
function rowMoved(row: Row, { by, own, mirror }: Move): Row {
  const x = mirror === "left_right" ? -own[0] : own[0];
  const y = mirror === "top_bottom" ? -own[1] : own[1];
  const back: Matrix = [1 / x, 0, 0, 0, 1 / y, 0, 0, 0, 1];
  return {
    ...row,
    shape: moved(row.shape, by),
    outline: row.outline.map(([across, down]) => [across * x, down * y]),
    width_mm: row.width_mm * own[0],
    height_mm: row.height_mm * own[1],
    page_from_opening: multiply(multiply(by, row.page_from_opening), back),
  };
}

/** Corners of a frame from its upper left one on, also once it was mirrored. */
function inOrder(frame: Point[], mirror: Carry["mirror"]): Point[] {
  const [a, b, c, d] = frame;
  if (!mirror || !a || !b || !c || !d || frame.length > 4) return frame;
  return mirror === "left_right" ? [b, a, d, c] : [d, c, b, a];
}

/** Layers with some ids and all in groups that have one, groups taken apart. */
function drawn(layers: readonly Layer[], ids: ReadonlySet<string>, all = false): Layer[] {
  return layers.flatMap((layer) => {
    const meant = all || ids.has(layer.id);
    if (layer.kind === "group") return drawn(layer.layers ?? [], ids, meant);
    return meant ? [layer] : [];
  });
}

function turnedBy(layer: Layer): number {
  const place: object = isShaped(layer) ? layer.surface : layer;
  return "turn_deg" in place ? Number(place.turn_deg) : 0;
}

/** Layers after a change of each, those in groups too. */
export function mapped(layers: Layer[], change: (layer: Layer) => Layer): Layer[] {
  return layers.map((layer) => {
    const next = change(layer);
    return next.kind === "group" ? { ...next, layers: mapped(next.layers ?? [], change) } : next;
  });
}

/** Whether a layer lies on points of the page, which carry its outline. */
const onPoints = (layer: Layer) =>
  isShaped(layer) && (layer.surface.kind === "corners" || layer.surface.kind === "grid");
