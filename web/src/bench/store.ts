/** What is only of this screen: selection, hand, view, drafts of pulls. Nothing of the server's is copied here. */
import { create } from "zustand";
import type { Edit } from "../api/client";
import type { Hand } from "./hand";
import type { Lying, Point } from "./placing";
import type { Drawn } from "./snapping";
import type { Surface } from "./surfaces";

/** A placement being pulled, drawn by the browser until the server's picture of `revision` is on the screen. */
export interface Draft {
  opening: string;
  lying: Lying;
  /** How the opening lies while its points are pulled. */
  surface?: Surface;
  revision?: number;
}

/** Going through openings one at a time, close up. */
export interface Walk {
  openings: string[];
  only: "all" | "findings";
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

interface BenchState {
  page: number;
  selected?: string;
  /** More openings selected beside it. */
  also: string[];
  hand?: Hand;
  draft?: Draft;
  pulled?: Pulled;
  walk?: Walk;
  preview?: { edit: Edit; picture: string };
  photoRoom?: string;
  floorOf?: string;
  notes: boolean;
  guides: boolean;
  keeps: boolean;
  heat: boolean;
  before: boolean;
  firstLook: boolean;
  view: number;
  panel: "ledger" | "findings";
  part: Part;
  /** How the corners of a surface help each other, and whether they snap to the guide grid. */
  help: "free" | "height" | "parallel";
  snap: boolean;
  set: (change: Partial<Omit<BenchState, "set">>) => void;
}

export const fresh = {
  page: 0,
  selected: undefined,
  also: [],
  hand: undefined,
  draft: undefined,
  pulled: undefined,
  walk: undefined,
  preview: undefined,
  photoRoom: undefined,
  floorOf: undefined,
  before: false,
  heat: false,
  view: 1,
  panel: "ledger" as const,
  part: "fit" as const,
};

export const useBench = create<BenchState>((set) => ({
  ...fresh,
  notes: true,
  guides: true,
  keeps: false,
  firstLook: false,
  help: "free",
  snap: true,
  // A selection of several ends when another one is selected, unless both are said.
  set: (change) => set("selected" in change && !("also" in change) ? { also: [], ...change } : change),
}));

/** All selected openings, the one selected last first. */
export const allSelected = ({ selected, also }: { selected?: string; also: string[] }) =>
  selected ? [selected, ...also.filter((opening) => opening !== selected)] : [];
