/** What the keys do while a photo is retouched. */
import type { KeyboardEvent, RefObject } from "react";
import type { Photo } from "../../../api/client";
import type { Point } from "../../../geometry/placing";
import { type Commands, meant, obey } from "../../../ui/keys";
import { heldRadius, turnedTo, useBrush } from "./brush";
import { RETOUCH_KEYS, TOOLS } from "./keys";
import { movedTouch, type Seen } from "./seen";
import type { useDrawn } from "./useDrawn";
import type { Touches } from "./useTouches";

const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** A value in steps of a tenth, none to all. */
const tenth = (value: number) => Math.round(Math.min(1, Math.max(0, value)) * 10) / 10;

export function useRetouchKeys({
  photo,
  seen,
  centre,
  view,
  drawn,
  touches,
  see,
  undo,
  redo,
  onLeave,
}: {
  photo: Photo;
  seen: Seen;
  /** Where the brush is, or else the middle of what is seen. */
  centre: Point;
  view: RefObject<HTMLDivElement | null>;
  drawn: ReturnType<typeof useDrawn>;
  touches: Touches;
  see: { whole: () => void; pixels: () => void; print: () => void; zoom: (by: number) => void };
  undo: () => void;
  redo: () => void;
  onLeave: () => void;
}) {
  const { set } = useBrush();
  const selected = () => touches.mine.find(({ id }) => id === useBrush.getState().selected);
  /** How far an arrow goes: some px of the screen, in px of the photo. */
  const stepped = (key: string, px: number): Point | undefined => {
    const way = WAYS[key];
    return way && [(way[0] * px) / seen.k, (way[1] * px) / seen.k];
  };
  const commands: Commands<(typeof RETOUCH_KEYS)[number]> = {
    move: ({ key, shiftKey }) => {
      const by = stepped(key, shiftKey ? 40 : 8);
      return by && drawn.point([centre[0] + by[0], centre[1] + by[1]]);
    },
    setDown: ({ shiftKey }) => drawn.setDown(centre, shiftKey),
    holdStill: () => {
      drawn.space.current = true;
    },
    takeUp: ({ key }) => {
      const tool = TOOLS.find((one) => one.key === key.toLowerCase());
      return tool && set(turnedTo(tool.tool, useBrush.getState()));
    },
    chooseSource: () => set({ choosing: true }),
    size: ({ key, shiftKey }) => {
      const { radius, soft } = useBrush.getState();
      const more = key === "]" || key === "}";
      // With Shift most keyboards say a brace.
      if (shiftKey || key === "{" || key === "}") set({ soft: tenth(soft + (more ? 0.1 : -0.1)) });
      else set({ radius: heldRadius(radius * (more ? 1.2 : 1 / 1.2)) });
    },
    strength: ({ key }) => set({ strength: key === "0" ? 100 : Number(key) * 10 }),
    carry: ({ key, shiftKey }) => {
      const by = stepped(key, shiftKey ? 40 : 4);
      const next = by && movedTouch(selected(), by, photo);
      return next ? touches.change(next.id, next) : false;
    },
    remove: () => {
      const { selected } = useBrush.getState();
      if (!selected) return false;
      touches.remove([selected]);
      return set({ selected: undefined });
    },
    before: () => set({ before: !useBrush.getState().before }),
    wiper: () => set({ wiper: useBrush.getState().wiper === undefined ? 0.5 : undefined }),
    zoom: ({ key }) => see.zoom(key === "-" ? 1 / 1.5 : 1.5),
    whole: see.whole,
    pixels: see.pixels,
    printSize: see.print,
    undo: ({ shiftKey }) => (shiftKey ? redo : undo)(),
    redo,
    letGo: () => {
      const { choosing, selected, proposed, tool } = useBrush.getState();
      // What was begun ends first, then the room is left.
      if (drawn.drawing) drawn.drop();
      else if (!choosing && !selected && !proposed && tool !== "pick") onLeave();
      set({
        choosing: false,
        selected: undefined,
        proposed: undefined,
        tool: tool === "pick" ? "heal" : tool,
      });
    },
  };
  return (event: KeyboardEvent) => {
    // What is typed into takes all keys; a choice, a tick and a button only those that work it.
    const target = event.target as HTMLElement;
    if (target.closest("input:not([type=radio], [type=checkbox]), [role=slider], textarea")) return;
    const entry = meant(event, RETOUCH_KEYS, target === view.current ? ["photo", "room"] : ["room"]);
    if (obey(event, entry, commands)) event.stopPropagation();
  };
}
