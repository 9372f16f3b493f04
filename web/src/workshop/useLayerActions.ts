/** What can be done with layers of the workshop, for menus and the finder. */
import type { MouseEvent } from "react";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import type { Action } from "../ui/actions";
import { openMenuAt } from "../ui/menuAt";
import { t } from "../words";
import { found, named, outermost } from "./layers";
import { useTable } from "./table";
import type { useTableKeys } from "./useTableKeys";

export function useLayerActions(state: View, byKeys: ReturnType<typeof useTableKeys>) {
  const { edit } = useChange(state);
  const { set } = useTable.getState();
  const { layers } = state.layout;

  /** Of the layers that are selected. */
  const selectionActions = (): Action[] => {
    const selected = useTable.getState().selected;
    const [only, another] = selected.flatMap((id) => found(layers, id) ?? []);
    if (!only) return [];
    const fields = (fields: Record<string, boolean>) => edit({ op: "set_fields", layers: selected, fields });
    const isText = only.kind === "text" && !another;
    return [
      ...(isText
        ? [
            {
              label: t("Edit text"),
              keys: "Enter",
              isOff: only.content_locked,
              run: () => set({ writing: only.id }),
            },
          ]
        : []),
      ...byKeys(["sheet"])
        .filter(({ label }) => !GENERAL.has(label))
        .map((action) =>
          action.label === "Group"
            ? { ...action, isOff: !another }
            : { ...action, isOff: action.isOff || (RESTACKS.has(action.label) && !!another) },
        ),
      ...(!another && only.kind === "group"
        ? [
            {
              label: t("Ungroup"),
              keys: "Ctrl Shift G",
              run: () => edit({ op: "dissolve", groups: [only.id] }),
            },
          ]
        : []),
      {
        label: only.place_locked ? t("Unlock position") : t("Lock position"),
        starts: true,
        run: () => fields({ place_locked: !only.place_locked }),
      },
      {
        label: only.visible === false ? t("Show") : t("Hide"),
        run: () => fields({ visible: only.visible === false }),
      },
    ];
  };

  /** The menu of a layer, which is selected by it unless it already is. */
  const layerMenu = (event: MouseEvent, id: string) => {
    const whole = useTable.getState().selected.includes(id) ? id : outermost(layers, id);
    if (!useTable.getState().selected.includes(whole)) set({ selected: [whole] });
    const { selected } = useTable.getState();
    const layer = found(layers, whole);
    const number = state.rows.find((row) => row.opening === whole)?.number;
    const label =
      selected.length > 1 ? `${selected.length} layers` : layer ? named(layer, number) : t("Layer");
    openMenuAt(event, label, selectionActions());
  };
  return { selectionActions, layerMenu };
}

/** What is of the sheet, not of a layer. */
const GENERAL = new Set([t("Select all"), t("Undo"), t("Redo")]);
const RESTACKS = new Set([t("Bring forward"), t("Send backward")]);
