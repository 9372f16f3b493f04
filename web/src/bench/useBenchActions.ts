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
import { t } from "../words";
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
      label:
        empty.length > 1 ? t("Fill these {empty} openings", { empty: empty.length }) : t("Fill this opening"),
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
      { label: t("Layouts"), run: () => set({ layouts: true }), starts: true },
      { label: t("Mirror layout"), run: () => compose(state, edit, { how: "mirror" }) },
      { label: t("More white space"), run: () => compose(state, edit, { how: "more_white_space" }) },
      { label: t("Less white space"), run: () => compose(state, edit, { how: "less_white_space" }) },
    ];
    return [
      ...inGroups(byKeys(["bench"]), OF_THE_SHEET),
      ...composing,
      { ...to(t("Edit layout"), "workshop"), starts: true },
      ...(state.sheets.length > 1 ? [to(t("Flat plan"), "plan")] : []),
      to(t("Dispatch"), "dispatch"),
      {
        ...saveFile(t("Proof for the customer"), `/api/jobs/${state.id}/proof.html?edition=${state.own.id}`),
        starts: true,
      },
      { label: t("Save as template…"), run: onKeep },
    ];
  };

  /** Of the text box that is selected. */
  const textActions = (text: Text): Action[] => [
    {
      label: t("Edit text"),
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
      openMenuAt(
        event,
        count > 1 ? `${count} openings` : t("Opening {number}", { number: layer.number }),
        openingActions(),
      );
      return;
    }
    set({ selected: layer.id });
    openMenuAt(event, layer.name || t("Text"), textActions(layer));
  };
  return { openingActions, textActions, sheetActions, layerMenu };
}

/** The names of keys in the groups of menus: all names of the table stand in one of them. */
export const OF_A_PHOTO = [
  [t("Swap with another opening"), t("Crop and straighten"), t("Retouch")],
  [t("Whole photo, or cover"), t("Mirror"), t("Reset fit"), t("Show keep areas in frame")],
  [t("Make larger on the sheet"), t("Make smaller on the sheet")],
  [t("Pin, or unpin"), t("Resolution over the opening")],
  [t("Clear"), t("Take off the sheet")],
];
export const OF_A_TEXT = [[t("Delete text")]];
const OF_NONE = [[t("Pin, or unpin")]];
export const OF_THE_SHEET = [
  [t("Fill the empty openings"), t("Walk"), t("Next layout"), t("Add text")],
  [t("Select all openings"), t("Undo"), t("Redo")],
  [t("Whole sheet in view"), t("Print size"), t("Pile as a grid, or a strip")],
  [
    t("Numbers and notes, on or off"),
    t("Cut lines, on or off"),
    t("Keep areas, on or off"),
    t("Press preview, on or off"),
    t("Before and after adjustments"),
  ],
];

/** What a key that goes to and fro does to an opening as it is now. */
const asItIs = (label: string, row: Row) =>
  ({
    "Pin, or unpin": row.pinned ? t("Unpin") : t("Pin"),
    "Whole photo, or cover":
      row.placement?.fit === "whole" ? t("Cover the opening") : t("Show the whole photo"),
  })[label];
