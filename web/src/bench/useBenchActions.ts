/** What can be done on the bench with what lies under the pointer, and with the sheet: for menus and the finder. */
import type { MouseEvent } from "react";
import { useLocation } from "wouter";
import type { Row, Text } from "../api/client";
import { compose } from "../book/layouts";
import { editionIn, jobAddress } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { allSelected, useBench } from "../editing/store";
import type { View } from "../editing/view";
import { type Action, goTo, inGroups, saveFile } from "../ui/actions";
import { openMenuAt } from "../ui/menuAt";
import type { Scope } from "./keys";

export function useBenchActions(
  state: View,
  byKeys: (scopes: readonly Scope[]) => Action[],
  onKeep: () => void,
) {
  const { edit } = useChange(state);
  const [, go] = useLocation();
  const { set } = useBench.getState();

  /** Of the openings that are selected. */
  const openingActions = (): Action[] => {
    const openings = allSelected(useBench.getState());
    const rows = state.rows.filter((row) => openings.includes(row.opening));
    const empty = rows.filter((row) => !row.photo && !row.pinned).map((row) => row.opening);
    const sheet = state.sheet.id;
    const fill: Action = {
      label: empty.length > 1 ? `Fill these ${empty.length} openings` : "Fill this opening",
      run: () => edit({ op: "fill", how: "best", only_empty: true, sheet, openings: empty }),
    };
    const [first] = rows;
    const all = byKeys(["opening"]);
    const shown = first?.photo ? inGroups(all, OF_A_PHOTO) : inGroups(all, OF_NONE);
    return [
      ...(empty.length ? [fill] : []),
      ...shown.map((action) => ({
        ...action,
        label: (first && asItIs(action.label, first)) ?? action.label,
      })),
    ];
  };

  /** Of the sheet in view and the job. */
  const sheetActions = (): Action[] => {
    const to = (label: string, place: "dispatch" | "plan" | "workshop") =>
      goTo(label, jobAddress(state.id, { sheet: state.sheet.id, edition: editionIn(state) }, place), go);
    const composing: Action[] = [
      { label: "Layouts", run: () => set({ layouts: true }), starts: true },
      { label: "Mirror layout", run: () => compose(state, edit, { how: "mirror" }) },
      { label: "More white space", run: () => compose(state, edit, { how: "more_white_space" }) },
      { label: "Less white space", run: () => compose(state, edit, { how: "less_white_space" }) },
    ];
    return [
      ...inGroups(byKeys(["bench"]), OF_THE_SHEET),
      ...composing,
      { ...to("Edit layout", "workshop"), starts: true },
      ...(state.sheets.length > 1 ? [to("Flat plan", "plan")] : []),
      to("Dispatch", "dispatch"),
      {
        ...saveFile("Proof for the customer", `/api/jobs/${state.id}/proof.html?edition=${state.own.id}`),
        starts: true,
      },
      { label: "Save as template…", run: onKeep },
    ];
  };

  /** Of the text box that is selected. */
  const textActions = (text: Text): Action[] => [
    {
      label: "Edit text",
      keys: "Enter",
      isOff: text.content_locked,
      run: () => set({ writing: text.id }),
    },
    ...inGroups(byKeys(["text"]), OF_A_TEXT).map((action) => ({
      ...action,
      isOff: text.content_locked || text.place_locked,
    })),
  ];

  /** The menu of an opening, which is selected by it unless it already is; or of a text. */
  const layerMenu = (event: MouseEvent, layer: Row | Text) => {
    if ("opening" in layer) {
      if (!allSelected(useBench.getState()).includes(layer.opening))
        set({ selected: layer.opening, also: [] });
      const count = allSelected(useBench.getState()).length;
      openMenuAt(event, count > 1 ? `${count} openings` : `Opening ${layer.number}`, openingActions());
      return;
    }
    set({ selected: layer.id });
    openMenuAt(event, layer.name || "Text", textActions(layer));
  };
  return { openingActions, textActions, sheetActions, layerMenu };
}

/** The names of keys in the groups of menus: all names of the table stand in one of them. */
export const OF_A_PHOTO = [
  ["Swap with another opening", "Crop and straighten", "Retouch"],
  ["Whole photo, or cover", "Mirror", "Reset fit", "Show keep areas in frame"],
  ["Make larger on the sheet", "Make smaller on the sheet"],
  ["Pin, or unpin", "Resolution over the opening"],
  ["Clear", "Take off the sheet"],
];
export const OF_A_TEXT = [["Delete text"]];
const OF_NONE = [["Pin, or unpin"]];
export const OF_THE_SHEET = [
  ["Fill the empty openings", "Walk", "Next layout", "Add text"],
  ["Select all openings", "Undo", "Redo"],
  ["Whole sheet in view", "Print size", "Pile as a grid, or a strip"],
  [
    "Numbers and notes, on or off",
    "Cut lines, on or off",
    "Keep areas, on or off",
    "Press preview, on or off",
    "Before and after adjustments",
  ],
];

/** What a key that goes to and fro does to an opening as it is now. */
const asItIs = (label: string, row: Row) =>
  ({
    "Pin, or unpin": row.pinned ? "Unpin" : "Pin",
    "Whole photo, or cover": row.placement?.fit === "whole" ? "Cover the opening" : "Show the whole photo",
  })[label];
