/** What is only of the workshop's screen: what is selected, the tool in hand, the view. */
import { create } from "zustand";
import type { Unit } from "../ui/units";

export type Tool =
  | "select"
  | "rectangle"
  | "rounded"
  | "ellipse"
  | "polygon"
  | "freehand"
  | "fill"
  | "words"
  | "dates"
  | "note"
  | "area";

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
  view: 1,
};

export const useTable = create<Table>((set) => ({
  ...bare,
  guides: true,
  snap: true,
  unit: undefined,
  set: (change) => set(change),
}));
