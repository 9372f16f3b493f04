/** What is held while a photo is retouched: the tool, the brush, where a source lies. Only of this screen. */
import { create } from "zustand";
import type { Touch } from "../../../api/client";
import type { Point } from "../../../geometry/placing";
import type { Source } from "./seen";

export type Tool = "clone" | "heal" | "fill" | "eye" | "area" | "subject" | "pick";
export type Shape = "stroke" | "outlined" | "round" | "graded" | "cut";
export type Change = "light" | "warmth" | "saturation" | "sharpness";

/** Whence a place is covered, and which place: told by where the first stroke begins. */
interface Chosen {
  at?: Point;
  from: Point;
}

interface Held {
  tool: Tool;
  shape: Shape;
  /** Of the photo's longer side. */
  radius: number;
  soft: number;
  strength: number;
  /** Where a place is covered from; undefined while none is chosen: clone waits for one, heal finds it by itself. */
  source?: Chosen;
  /** The next click says where the source lies. */
  choosing: boolean;
  along: boolean;
  turn_deg: number;
  mirror: boolean;
  scale: number;
  /** What a new area changes, and how closely it keeps to edges. */
  amounts: Record<Change, number>;
  edges: number;
  /** What a subject is cut out for: to stand free, or for all behind it to be changed. */
  cutFor: "free" | "backdrop";
  /** What the next stroke of it means: another subject, more of the selected one, or less of it. */
  cutting: "anew" | "more" | "less";
  selected?: string;
  proposed?: Touch[];
  /** Where the photo as it was is shown: left of a share of the window; undefined nowhere. */
  wiper?: number;
  before: boolean;
  set: (change: Partial<Omit<Held, "set">>) => void;
}

const fresh = {
  tool: "heal" as Tool,
  shape: "stroke" as Shape,
  radius: 0.008,
  soft: 0.3,
  strength: 100,
  source: undefined as Chosen | undefined,
  choosing: false,
  along: true,
  turn_deg: 0,
  mirror: false,
  scale: 1,
  amounts: { light: 0.5, warmth: 0, saturation: 0, sharpness: 0 },
  edges: 0,
  cutFor: "free" as "free" | "backdrop",
  cutting: "anew" as "anew" | "more" | "less",
  selected: undefined as string | undefined,
  proposed: undefined as Touch[] | undefined,
  wiper: undefined as number | undefined,
  before: false,
};

export const useBrush = create<Held>()((set) => ({ ...fresh, set }));

/** Nothing of one photo is left for another. */
export const forPhoto = () =>
  useBrush.setState({
    source: undefined,
    choosing: false,
    cutting: "anew",
    selected: undefined,
    proposed: undefined,
    wiper: undefined,
    before: false,
  });

/** The shapes that a tool takes. */
export const shapesOf = (tool: Tool): Shape[] =>
  tool === "area"
    ? ["stroke", "outlined", "round", "graded"]
    : tool === "eye" || tool === "pick"
      ? []
      : tool === "subject"
        ? ["cut"]
        : ["stroke", "outlined"];

/** What changes when another tool is taken up. */
export const turnedTo = (tool: Tool, { shape }: { shape: Shape }) => {
  const [first = "stroke", ...more] = shapesOf(tool);
  return { tool, shape: more.includes(shape) ? shape : first, choosing: false, cutting: "anew" as const };
};

export const heldRadius = (radius: number) => Math.min(0.25, Math.max(0.0005, radius));

/** Where the source is for a stroke that begins at a point: it moves along, or stays where it was chosen. */
export function sourceFor(
  { source, along, turn_deg, mirror, scale }: Held,
  point: Point,
): Source | undefined {
  if (!source) return undefined;
  return { at: (along && source.at) || point, from: source.from, turn_deg, mirror, scale };
}
