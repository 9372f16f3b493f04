/** What the keys of the workshop do. */
import { useCallback, useEffect, useRef } from "react";
import { type Said, useChange } from "../editing/changes";
import { heldView } from "../editing/store";
import type { View } from "../editing/view";
import { type Action, actionsOf } from "../ui/actions";
import { keyRuns, shiftOf } from "../ui/arrows";
import { type Commands, isTheControls, isTyping, meant, obey } from "../ui/keys";
import { useKeysBack } from "../ui/useKeysBack";
import { TABLE_KEYS, TOOLS } from "./keys";
import { boxAbout, found } from "./layers";
import { useTable } from "./table";
import type { useHands } from "./useHands";

type Scope = (typeof TABLE_KEYS)[number]["scope"];

/** Takes the keys of the workshop; what can be done by them, for menus. */
export function useTableKeys(
  view: View,
  hands: ReturnType<typeof useHands>,
): (scopes: readonly Scope[]) => Action[] {
  useKeysBack();
  const doing = useRef<Commands<(typeof TABLE_KEYS)[number]>>(undefined);
  const { edit, undo, redo } = useChange(view);
  const latest = useRef({ view, hands, edit, undo, redo });
  latest.current = { view, hands, edit, undo, redo };
  useEffect(() => {
    const gestureOf = keyRuns();
    const { set } = useTable.getState();
    const chosen = () => useTable.getState().selected;
    const layers = () => latest.current.view.layout.layers;
    const commands: Commands<(typeof TABLE_KEYS)[number]> = {
      takeUp: ({ key }) => {
        const tool = TOOLS.find((entry) => entry.key === key.toLowerCase());
        if (!tool) return false;
        latest.current.hands.cancel();
        return set({ tool: tool.tool });
      },
      ornaments: () => set({ ornaments: !useTable.getState().ornaments }),
      enter: ({ target }) => {
        const { hands } = latest.current;
        if (useTable.getState().pull?.kind === "cut") return hands.cancel(true);
        if (!onTheSheet(target)) return false;
        const selected = chosen();
        const [only] = useTable.getState().tool === "select" && selected.length === 1 ? selected : [];
        if (only && found(layers(), only)?.kind === "text") return set({ writing: only });
        return hands.lay();
      },
      carry: ({ key, shiftKey }) => {
        const by = shiftOf(key, shiftKey);
        if (!by || !chosen().length) return false;
        return latest.current.edit({ op: "carry", layers: chosen(), by }, { gesture: gestureOf() });
      },
      remove: () => {
        if (!chosen().length) return false;
        latest.current.edit({ op: "remove_layers", layers: chosen() });
        return set({ selected: [] });
      },
      repeat: () => {
        const selected = chosen();
        if (!selected.length) return false;
        const box = boxAbout(layers(), latest.current.view.frames, selected);
        const step = box ? box.right - box.left + 4 : 10;
        const how = { columns: 2, rows: 1, step_mm: [step, 0] as [number, number], on_top: true };
        return latest.current.hands.repeat(selected, how);
      },
      group: ({ shiftKey }) => {
        const selected = chosen();
        if (!shiftKey)
          return selected.length > 1 && latest.current.hands.make({ op: "gather", layers: selected });
        const groups = selected.filter((id) => found(layers(), id)?.kind === "group");
        return groups.length && latest.current.edit({ op: "dissolve", groups });
      },
      selectAll: () =>
        set({ selected: layers().flatMap(({ kind, id }) => (kind === "background" ? [] : [id])) }),
      restack: ({ key }) => {
        const [only, another] = chosen();
        if (!only || another) return false;
        return restack(latest.current.view, latest.current.edit, only, key === "]");
      },
      letGo: () => {
        const { hands } = latest.current;
        if (useTable.getState().pull) hands.cancel();
        else if (useTable.getState().tool !== "select") set({ tool: "select" });
        else set({ selected: [] });
      },
      undo: ({ shiftKey }) => latest.current[shiftKey ? "redo" : "undo"](),
      redo: () => latest.current.redo(),
      turnPage: ({ key }) => {
        const { sheets, at } = latest.current.view;
        const next = sheets[at + (key === "PageDown" ? 1 : -1)];
        if (next) set({ sheet: next.id, selected: [] });
      },
      view: ({ key }) => {
        const { view } = useTable.getState();
        set({ view: heldView(key === "-" ? view / 1.25 : view * 1.25) });
      },
    };
    doing.current = commands;
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event.target)) return;
      if (document.querySelector("[role=dialog]")) return;
      if (event.key.startsWith("Arrow") && isTheControls(event.target, event.key)) return;
      obey(event, meant(event, TABLE_KEYS, ["tool", "sheet"]), commands);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
  return useCallback((scopes) => (doing.current ? actionsOf(TABLE_KEYS, scopes, doing.current) : []), []);
}

/** Whether a key is the sheet's and no button's. */
const onTheSheet = (target: EventTarget | null) =>
  target === document.body || (target instanceof Element && !!target.closest("[data-stage], nav"));

/** One up or down among those it lies with. */
function restack(view: View, edit: (said: Said) => void, id: string, up: boolean) {
  const among = (layers: View["layout"]["layers"], group: string | null): void => {
    const at = layers.findIndex((layer) => layer.id === id);
    if (at < 0) {
      for (const layer of layers) if (layer.kind === "group") among(layer.layers ?? [], layer.id);
      return;
    }
    const below = up ? layers[at + 2] : layers[at - 1];
    if (up ? at < layers.length - 1 : at > 0)
      edit({ op: "restack", layer: id, group: below ? null : group, below: below?.id ?? null });
  };
  among(view.layout.layers, null);
}
