/** What is only of this screen: selection, hand, view, the draft of a drag. Nothing of the server's is copied here. */
import { create } from "zustand";
import type { Hand } from "./hand";
import type { Lying } from "./placing";

/** A placement being pulled, drawn by the browser until the server's picture of `revision` is on the screen. */
export interface Draft {
  opening: string;
  lying: Lying;
  revision?: number;
}

interface BenchState {
  page: number;
  selected?: string;
  hand?: Hand;
  draft?: Draft;
  notes: boolean;
  guides: boolean;
  view: number;
  panel: "ledger" | "findings";
  set: (change: Partial<Omit<BenchState, "set">>) => void;
}

export const fresh = {
  page: 0,
  selected: undefined,
  hand: undefined,
  draft: undefined,
  view: 1,
  panel: "ledger" as const,
};

export const useBench = create<BenchState>((set) => ({
  ...fresh,
  notes: true,
  guides: true,
  set: (change) => set(change),
}));
