/** What is only of the workshop's screen: what is selected, the tool in hand, the view. */
import { create } from "zustand";
import type { Drawn } from "../geometry/lines";
import type { Matrix, Point } from "../geometry/placing";
import type { Unit } from "../ui/units";
import type { Box } from "./layers";
import type { Gap } from "./lines";
import type { Handle } from "./pulling";
import type { Tool } from "./tool";

export type Pull =
  | { kind: "draw"; from: Point; box: Box }
  | { kind: "trace"; points: Point[] }
  | { kind: "cut"; points: Point[]; to: Point }
  | { kind: "mark"; from: Point; box: Box }
  | { kind: "move"; from: Point; by: Point; copy: boolean }
  | { kind: "size"; handle: Handle; by: Matrix; says: [number, number] }
  | { kind: "turn"; from: Point; turn: number };

/** Lines and gaps that something was drawn to. */
export interface Help {
  lines: Drawn;
  gaps: Gap[];
}

interface Table {
  /** The sheet in view, by its id; "" is the first. */
  sheet: string;
  selected: string[];
  /** The box whose words are typed on the sheet. */
  writing?: string;
  tool: Tool;
  /** Width / height that what is drawn or sized keeps. */
  ratio?: number;
  /** The layer pointed at in the stack list. */
  pointed?: string;
  /** What the pointer is doing, until it is let go, and what that is drawn to. */
  pull?: Pull;
  help?: Help;
  /** Whether the ornaments lie open. */
  ornaments?: boolean;
  guides: boolean;
  snap: boolean;
  view: number;
  unit?: Unit;
  set: (change: Partial<Omit<Table, "set">>) => void;
}

export const bare = {
  sheet: "",
  selected: [],
  writing: undefined,
  tool: "select" as Tool,
  ratio: undefined,
  pointed: undefined,
  pull: undefined,
  help: undefined,
  view: 1,
};

export const useTable = create<Table>((set) => ({
  ...bare,
  guides: true,
  snap: true,
  unit: undefined,
  set: (change) => set(change),
}));
