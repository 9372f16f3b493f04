/** The keys of the workshop, in one table: the help is drawn from it, so that what is listed is what works. */
import { useEffect, useRef } from "react";
import { type Said, useChange } from "../editing/jobs";
import { isTyping } from "../editing/keys";
import { heldView } from "../editing/store";
import type { View } from "../editing/view";
import { boxAbout, found } from "./layers";
import { type Tool, useTable } from "./table";
import type { useHands } from "./useHands";

export const TOOLS: readonly { tool: Tool; key: string; label: string; hint: string }[] = [
  { tool: "select", key: "v", label: "Pick", hint: "Pick, move, size and turn layers" },
  { tool: "rectangle", key: "r", label: "Rectangle", hint: "Pull a rectangular opening (Shift: a square)" },
  { tool: "rounded", key: "o", label: "Rounded", hint: "Pull an opening with round corners" },
  { tool: "ellipse", key: "e", label: "Ellipse", hint: "Pull an elliptic opening (Shift: a circle)" },
  { tool: "polygon", key: "p", label: "Polygon", hint: "Click corners of an opening; the first one, Enter or a double click closes it" },
  { tool: "freehand", key: "d", label: "Free", hint: "Draw an opening freely" },
  { tool: "fill", key: "c", label: "Colour", hint: "Pull a shape of one colour" },
  { tool: "dates", key: "m", label: "Dates", hint: "Pull a box for the days of a month" },
  { tool: "words", key: "t", label: "Words", hint: "Pull a box for words" },
  { tool: "note", key: "n", label: "Note", hint: "Pull a note to whoever fills the sheet; it never prints" },
  { tool: "area", key: "k", label: "Area", hint: "Point at a hole, or an area of one colour, in a picture: it becomes an opening" },
]; // biome-ignore format: a table

export const TABLE_KEYS: readonly [string, string][] = [
  ...TOOLS.map(({ key, hint }): [string, string] => [key.toUpperCase(), hint]),
  ["B", "ornaments"],
  ["Enter, double click", "on words: type them on the sheet"],
  ["Enter", "with a tool in hand: lay what it makes in the middle of the sheet"],
  ["Arrows", "move by 1 mm (with Shift by 0.1 mm)"],
  ["Delete", "take away what is selected"],
  ["Ctrl D", "the same again, beside it"],
  ["Ctrl G, Ctrl Shift G", "group; take a group apart"],
  ["Ctrl A", "select all"],
  ["[  ]", "one down, one up in the stack"],
  ["Ctrl while pulling", "a copy stays where it was"],
  ["Alt while pulling", "free of lines that draw"],
  ["Escape", "let go: of the tool, then of what is selected"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["Page Up, Page Down", "previous, next sheet"],
  ["Ctrl +, Ctrl −", "larger, smaller view"],
]; // biome-ignore format: a table

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

export function useTableKeys(view: View, hands: ReturnType<typeof useHands>) {
  const { edit, undo, redo } = useChange(view);
  const latest = useRef({ view, hands, edit, undo, redo });
  latest.current = { view, hands, edit, undo, redo };
  useEffect(() => {
    let run = { gesture: "", at: 0 };
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event.target)) return;
      if (document.querySelector("[role=dialog]")) return;
      const { view, hands, edit, undo, redo } = latest.current;
      const { selected, set, view: large } = useTable.getState();
      const { layers } = view.layout;
      const ctrl = event.ctrlKey || event.metaKey;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const done = () => event.preventDefault();
      const arrow = ARROWS[event.key];
      if (ctrl) {
        if (key === "z" || key === "y") (key === "y" || event.shiftKey ? redo : undo)();
        else if (key === "a")
          set({ selected: layers.filter(({ kind }) => kind !== "background").map(({ id }) => id) });
        else if (key === "d" && selected.length) {
          const box = boxAbout(layers, view.frames, selected);
          const step = box ? box.right - box.left + 4 : 10;
          hands.make({ op: "repeat", layers: selected, columns: 2, rows: 1, step_mm: [step, 0] } as Said);
        } else if (key === "g" && event.shiftKey) {
          const groups = selected.filter((id) => found(layers, id)?.kind === "group");
          if (groups.length) edit({ op: "dissolve", groups } as Said);
        } else if (key === "g" && selected.length > 1) hands.make({ op: "gather", layers: selected } as Said);
        else if (key === "+" || key === "=") set({ view: heldView(large * 1.25) });
        else if (key === "-") set({ view: heldView(large / 1.25) });
        else return;
        done();
        return;
      }
      const tool = TOOLS.find((entry) => entry.key === key);
      if (arrow && selected.length) {
        if (Date.now() - run.at > 1500) run = { gesture: `run-${crypto.randomUUID()}`, at: 0 };
        run.at = Date.now();
        const by = arrow.map((way) => way * (event.shiftKey ? 0.1 : 1));
        edit({ op: "carry", layers: selected, by } as unknown as Said, { gesture: run.gesture });
      } else if ((key === "Delete" || key === "Backspace") && selected.length) {
        edit({ op: "remove_layers", layers: selected } as Said);
        set({ selected: [] });
      } else if (key === "Escape") {
        if (hands.pull) hands.cancel();
        else if (useTable.getState().tool !== "select") set({ tool: "select" });
        else set({ selected: [] });
      } else if (key === "Enter" && hands.pull?.kind === "cut") hands.cancel(true);
      else if (key === "Enter" && onTheSheet(event.target)) {
        const [only] = useTable.getState().tool === "select" && selected.length === 1 ? selected : [];
        if (only && found(layers, only)?.kind === "text") set({ writing: only });
        else hands.lay();
      } else if ((key === "[" || key === "]") && selected.length === 1)
        restack(view, edit, selected[0] ?? "", key === "]");
      else if (key === "PageUp" || key === "PageDown") {
        const next = view.sheets[view.at + (key === "PageDown" ? 1 : -1)];
        if (next) set({ sheet: next.id, selected: [] });
      } else if (key === "b" && !event.altKey) set({ ornaments: !useTable.getState().ornaments });
      else if (tool && !event.altKey) {
        hands.cancel();
        set({ tool: tool.tool });
      } else return;
      done();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
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
      edit({ op: "restack", layer: id, group: below ? null : group, below: below?.id ?? null } as Said);
  };
  among(view.layout.layers, null);
}
