/** What is only of this screen: selection, hand, view, drafts of pulls. Nothing of the server's is copied here. */
import { create } from "zustand";
import type { Edit, Panel } from "../api/client";
import type { Drawn } from "../geometry/lines";
import type { Lying, Point } from "../geometry/placing";
import type { Surface } from "../geometry/surfaces";
import type { ProofView } from "../press/views";
import type { Unit } from "../ui/units";

/** Photos picked up and waiting to be put down, one per click; or what lies in an opening, to be swapped. */
export type Hand = { kind: "photos"; photos: string[] } | { kind: "opening"; opening: string };

/**
 * A placement being pulled, drawn by the browser. It is open while it is pulled, sent once it is an edit on its way, and
 * once that is stored it waits for a picture of that state, or of a later one, to be on the screen.
 */
export interface Draft {
  opening: string;
  lying: Lying;
  /** How the opening lies while its points are pulled. */
  surface?: Surface;
  state: "open" | "sent" | "stored";
  seq?: number;
}

/** Going through openings one at a time, close up. */
export interface Walk {
  /** The sheet it is on; "" while it goes to another, forwards or back by `from`. */
  sheet: string;
  from?: number;
  openings: string[];
  only: "all" | "findings";
  /** Where something was found in any edition, when all are walked through. */
  tour?: { edition: string; sheet: string }[];
}

/** Points of a surface being pulled, page mm; `bad` when they fold. */
export interface Pulled {
  opening: string;
  points: Point[][];
  bad: boolean;
  /** Lines across the page that it was drawn to. */
  lines?: Drawn;
}

export type Part = "fit" | "surface" | "frame" | "tone";

export type PileShow = "all" | "unused" | "stars" | "aside";
export type Sorting = "taken" | "name" | "orientation" | "used" | "stars";

interface BenchState {
  /** The sheet in view, by its id; "" is the first. */
  sheet: string;
  edition: string;
  /** The panel of a folded sheet that is worked on, upright and close. */
  panelOf?: Panel;
  selected?: string;
  /** The box whose words are typed on the sheet. */
  writing?: string;
  /** More openings selected beside it. */
  also: string[];
  hand?: Hand;
  draft?: Draft;
  pulled?: Pulled;
  walk?: Walk;
  preview?: { edit: Edit; picture: string };
  photoRoom?: string;
  /** Whether layouts for the sheet are shown in the place of the pile. */
  layouts: boolean;
  /** Whether the photo is retouched there, not fitted. */
  retouching: boolean;
  floorOf?: string;
  notes: boolean;
  guides: boolean;
  keeps: boolean;
  heat: boolean;
  before: boolean;
  /** What of the lab's press is shown instead of the sheet as it is. */
  proof?: ProofView;
  firstLook: boolean;
  /** What of the pile is shown, and how. */
  pile: { show: PileShow; sorting: Sorting; names: boolean };
  /** How high the pile's grid over the stage is, px; 0 while the pile is a strip. */
  pileHigh: number;
  view: number;
  /** The unit that was chosen for lengths; undefined leaves it to the size of the sheet. */
  unit?: Unit;
  panel: "ledger" | "findings";
  part: Part;
  /** How the corners of a surface help each other, and whether they snap to the guide grid. */
  help: "free" | "height" | "parallel";
  snap: boolean;
  set: (change: Partial<Omit<BenchState, "set">>) => void;
}

export const fresh = {
  sheet: "",
  edition: "",
  panelOf: undefined,
  selected: undefined,
  writing: undefined,
  also: [],
  hand: undefined,
  draft: undefined,
  pulled: undefined,
  walk: undefined,
  preview: undefined,
  photoRoom: undefined,
  layouts: false,
  retouching: false,
  floorOf: undefined,
  before: false,
  proof: undefined,
  heat: false,
  view: 1,
  panel: "ledger" as const,
  part: "fit" as const,
  pile: { show: "all" as PileShow, sorting: "taken" as Sorting, names: false },
  pileHigh: 0,
};

/** How high the pile's grid opens, px: five lines of photos, and the sheet's top edge stays in view. */
export const openHeight = () => Math.min(520, Math.round(innerHeight * 0.72));

export const useBench = create<BenchState>((set) => ({
  ...fresh,
  notes: true,
  guides: true,
  keeps: false,
  unit: undefined,
  firstLook: false,
  help: "free",
  snap: true,
  // A selection of several ends when another one is selected, unless both are said.
  // And a panel is one of its sheet.
  set: (change) =>
    set({
      ...("selected" in change && !("also" in change) ? { also: [] } : {}),
      ...("sheet" in change && !("panelOf" in change) ? { panelOf: undefined } : {}),
      ...change,
    }),
}));

export const LEAST_VIEW = 0.5;
export const MOST_VIEW = 12;
/** A view that can be had: from half of what fits to twelve times that. */
export const heldView = (view: number) => Math.min(MOST_VIEW, Math.max(LEAST_VIEW, view));

/** All selected openings, the one selected last first. */
export const allSelected = ({ selected, also }: { selected?: string; also: string[] }) =>
  selected ? [selected, ...also.filter((opening) => opening !== selected)] : [];
