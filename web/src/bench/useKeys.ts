/** The keys of the bench, by the table: what each of its commands does. */
import { useCallback, useEffect, useRef } from "react";
import { addHand, compose, tryNext } from "../book/layouts";
import { useChange } from "../editing/changes";
import { held, useFitting } from "../editing/fitting";
import { jobStore } from "../editing/jobs";
import { addText } from "../editing/newText";
import { allSelected, heldView, openHeight, useBench } from "../editing/store";
import { leaves, type View } from "../editing/view";
import { clamped } from "../geometry/placing";
import { type Action, actionsOf } from "../ui/actions";
import { keyRuns, shiftOf } from "../ui/arrows";
import { type Commands, isTheControls, isTyping, meant, obey } from "../ui/keys";
import { useKeysBack } from "../ui/useKeysBack";
import { useClear } from "./clearing";
import { fitByKey, KEYS, type Scope } from "./keys";
import { skipped } from "./pile/hand";
import { useFill } from "./useFill";
import { goOn, startWalk, useTake } from "./walk/walking";

const PX_PER_MM = 96 / 25.4; // CSS px, which a browser takes for 1/96 in
let fit = 1;
/** Says how many px a millimetre has when all of the sheet fits. */
export const setFit = (scale: number) => {
  fit = scale;
};

/** Takes the keys of the bench; what can be done by them, for menus. */
export function useKeys(view: View): (scopes: readonly Scope[]) => Action[] {
  useKeysBack();
  const doing = useRef<Commands<(typeof KEYS)[number]>>(undefined);
  const { edit, undo, redo } = useChange(view);
  const { nudge, keep, drop } = useFitting(view);
  const fill = useFill(view);
  const take = useTake(view);
  const clear = useClear(view);
  const latest = useRef({ view, edit, undo, redo, nudge, keep, drop, fill, take, clear });
  latest.current = { view, edit, undo, redo, nudge, keep, drop, fill, take, clear };
  useEffect(() => {
    const gestureOf = keyRuns();
    const chosenText = () => {
      const { selected } = useBench.getState();
      const layer = leaves(latest.current.view.layout).find(({ id }) => id === selected);
      return layer?.kind === "text" ? layer : undefined;
    };
    const now = () => {
      const { selected } = useBench.getState();
      return held(latest.current.view, selected);
    };
    const set = useBench.getState().set;
    // At once, also while what is known of the photo is still on its way.
    const roomOf = (retouching: boolean) => {
      const { selected } = useBench.getState();
      const row = latest.current.view.rows.find(({ opening }) => opening === selected);
      if (row?.photo) set({ photoRoom: row.opening, retouching });
    };
    const toggle = (name: "keeps" | "heat" | "before" | "notes" | "guides") => () => {
      set({ [name]: !useBench.getState()[name] });
    };
    const back = (which: "undo" | "redo") => () => {
      // A pull that is not let go of yet is taken back first.
      if (which === "undo" && useBench.getState().draft?.state === "open" && pulling()) {
        latest.current.drop();
        return;
      }
      latest.current[which]();
    };
    const changeSize = (how: "larger" | "smaller") => {
      const photo = now()?.photo.id;
      if (photo) compose(latest.current.view, latest.current.edit, { how, photo });
    };
    const commands: Commands<(typeof KEYS)[number]> = {
      keepPreview: () => {
        const { preview } = useBench.getState();
        if (preview) latest.current.edit(preview.edit);
        set({ preview: undefined });
      },
      leavePreview: () => {
        set({ preview: undefined });
      },
      goOn: ({ shiftKey }) => {
        latest.current.keep(); // what was fitted here is accepted
        goOn(latest.current.view, shiftKey ? -1 : 1);
      },
      take: ({ key }) => {
        const { selected } = useBench.getState();
        latest.current.keep();
        if (selected) latest.current.take(selected, Number(key));
      },
      endWalk: () => {
        latest.current.keep();
        set({ walk: undefined });
      },
      putDown: () => false, // the opening that has the focus does it
      skip: () => {
        const { hand } = useBench.getState();
        if (hand) set({ hand: skipped(hand) });
      },
      letGo: () => {
        const { floorOf, hand, layouts, pileHigh } = useBench.getState();
        if (floorOf) set({ floorOf: undefined });
        else if (pileHigh && !hand) set({ pileHigh: 0 });
        else if (layouts && !hand) set({ layouts: false });
        else set(hand ? { hand: undefined } : { selected: undefined });
      },
      fit: ({ key, shiftKey }) => {
        const nudge = () => {
          const here = now();
          const lying = here && fitByKey(here, key, shiftKey);
          if (!here || !lying) return false;
          latest.current.nudge(here.row.opening, clamped(here.outline, here.photo, lying));
        };
        const store = jobStore(latest.current.view.id);
        if (!store.turning) return nudge();
        store.settled().then(() => setTimeout(nudge)); // from where the photo lies then
      },
      swap: () => {
        const here = now();
        if (here) set({ hand: { kind: "opening", opening: here.row.opening } });
      },
      crop: () => roomOf(false),
      retouch: () => roomOf(true),
      pin: () => {
        const openings = allSelected(useBench.getState());
        const first = latest.current.view.rows.find((row) => row.opening === openings[0]);
        if (openings.length) latest.current.edit({ op: "pin", openings, pinned: !first?.pinned });
      },
      keepInView: () => {
        if (now()) latest.current.edit({ op: "keep_in_view", openings: allSelected(useBench.getState()) });
      },
      clear: () => {
        const chosen = new Set(allSelected(useBench.getState()));
        const filled = latest.current.view.rows.filter((row) => chosen.has(row.opening) && row.photo);
        if (filled.length) latest.current.clear(filled.map((row) => row.opening));
      },
      addText: () => addText(latest.current.view, latest.current.edit),
      moveText: ({ key, shiftKey }) => {
        const text = chosenText();
        if (!text || text.place_locked) return false;
        const by = shiftOf(key, shiftKey);
        if (by) latest.current.edit({ op: "carry", layers: [text.id], by }, { gesture: gestureOf() });
      },
      deleteText: () => {
        const text = chosenText();
        if (!text || text.content_locked || text.place_locked) return false;
        latest.current.edit({ op: "remove_layers", layers: [text.id] });
        set({ selected: undefined, writing: undefined });
      },
      larger: () => changeSize("larger"),
      smaller: () => changeSize("smaller"),
      takeOff: () => {
        const chosen = new Set(allSelected(useBench.getState()));
        const { view, edit } = latest.current;
        const remove = view.rows.flatMap((row) => (chosen.has(row.opening) && row.photo ? [row.photo] : []));
        if (remove.length) compose(view, edit, { remove });
        set({ selected: undefined, also: [] });
      },
      addToSheet: () => addHand(latest.current.view, latest.current.edit),
      walk: () => {
        startWalk(latest.current.view, "all", useBench.getState().selected);
      },
      fill: () => {
        latest.current.fill.likely();
      },
      openPile: () => set({ pileHigh: useBench.getState().pileHigh ? 0 : openHeight() }),
      layout: ({ shiftKey }) => {
        const { view, edit } = latest.current;
        tryNext(view, shiftKey ? -1 : 1, edit);
      },
      turnPage: ({ key }) => {
        const { sheets, at } = latest.current.view;
        const index = sheets.findIndex(({ id }) => id === useBench.getState().sheet); // it may be on its way yet
        const next = sheets[(index < 0 ? at : index) + (key === "PageUp" ? -1 : 1)];
        if (next) set({ sheet: next.id, selected: undefined });
      },
      undo: ({ shiftKey }) => back(shiftKey ? "redo" : "undo")(),
      redo: back("redo"),
      selectAll: () => {
        const [first, ...rest] = latest.current.view.rows.map((row) => row.opening);
        if (first) set({ selected: first, also: rest });
      },
      view: ({ key }) => {
        const { view } = useBench.getState();
        set({ view: heldView(key === "-" ? view / 1.5 : view * 1.5) });
      },
      wholeSheet: () => {
        set({ view: 1 });
      },
      printSize: () => {
        set({ view: heldView(PX_PER_MM / fit) });
      },
      keeps: toggle("keeps"),
      heat: toggle("heat"),
      before: toggle("before"),
      proof: () => {
        set({ proof: useBench.getState().proof ? undefined : "paper" });
      },
      notes: toggle("notes"),
      guides: toggle("guides"),
    };
    doing.current = commands;
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event.target)) return;
      const { preview, walk, hand, selected } = useBench.getState();
      const open: Scope[] = [
        ...(preview ? (["preview"] as const) : []),
        ...(walk ? (["walk"] as const) : []),
        ...(hand ? (["hand"] as const) : []),
        ...(chosenText() ? (["text"] as const) : selected ? (["opening"] as const) : []),
        "bench",
      ];
      const key = meant(event, KEYS, open);
      if (!key) return;
      const onStage = event.target instanceof Element && !!event.target.closest("[data-stage]");
      // What is shown before it is kept asks for Enter or Escape, whatever button was pressed last.
      const isPreview = key.scope === "preview";
      if (!isPreview && !onStage && !walk && isTheControls(event.target, event.key)) return;
      obey(event, key, commands);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
  return useCallback((scopes) => (doing.current ? actionsOf(KEYS, scopes, doing.current) : []), []);
}

/** Whether a pointer holds something just now. */
const pulling = () => document.querySelector("[data-pulling]") !== null;
