/** Every key, in one table: what it does where. The help is drawn from it, so that what is listed is what works. */
import { type Lying, shifted, zoomed } from "../geometry/placing";
import type { Held } from "./fitting";

const STEP_MM = 1;
const FINE_MM = 0.1;

/** Where a key works: anywhere on the bench, with an opening selected, in a walk, with something in hand, before keeping. */
export type Scope = "bench" | "opening" | "walk" | "hand" | "preview";

export interface Key {
  scope: Scope;
  /** As the browser names them; letters in lower case. With `ctrl`, Ctrl or the command key is held. */
  keys: readonly string[];
  ctrl?: boolean;
  shown: string;
  what: string;
  does: string;
}

const key = (scope: Scope, keys: string, shown: string, what: string, does: string, ctrl = false): Key => ({
  scope, keys: keys.split(" ").map((name) => (name === "Space" ? " " : name)), shown, what, does, ctrl,
}); // biome-ignore format: one line

export const KEYS: readonly Key[] = [
  key("preview", "Enter", "Enter", "keep what is shown", "keepPreview"),
  key("preview", "Escape", "Escape", "leave it as it was", "leavePreview"),
  key("walk", "Enter Tab", "Enter, Shift Enter", "accept and go on, or back", "goOn"),
  key("walk", "1 2 3 4 5 6 7 8 9", "1 to 9", "take the next-best photo of the pile", "take"),
  key("walk", "Escape", "Escape", "end the walk", "endWalk"),
  key("hand", "Enter", "Enter on an opening", "put down what the hand holds", "putDown"),
  key("hand", "x", "X", "skip the next photo in hand", "skip"),
  key("hand", "Escape", "Escape", "let go of what is in hand", "letGo"),
  key("opening", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "shift the photo by 1 mm (with Shift by 0.1 mm)", "fit"),
  key("opening", "+ = - _", "+  −", "zoom in, out", "fit"),
  key("opening", "[ ] { }", "[  ]", "turn left, right by 0.1° (with Shift by 1°)", "fit"),
  key("opening", "m", "M", "mirror", "fit"),
  key("opening", "w", "W", "whole photo, or covering", "fit"),
  key("opening", "0", "0", "fit anew: covering, centred", "fit"),
  key("opening", "s", "S", "take the photo in hand, to swap it with another opening's", "swap"),
  key("opening", "c", "C", "the whole photo: crop, straighten, keep areas", "crop"),
  key("opening", "r", "R", "retouch the photo: heal, clone, fill, areas made lighter, dust", "retouch"),
  key("opening", "p", "P", "pin the openings selected, so that no filling touches them", "pin"),
  key("opening", "v", "V", "bring what must stay visible into view", "keepInView"),
  key("opening", "Delete Backspace", "Delete", "clear the openings selected", "clear"),
  key("opening", "h", "H", "ppi over the opening, on or off", "heat"),
  key("bench", "Enter", "Enter", "walk: from opening to opening, close up", "walk"),
  key("bench", "Escape", "Escape", "let go of the selection", "letGo"),
  key("bench", "f", "F", "fill the empty openings", "fill"),
  key("bench", "l", "L, Shift L", "the next, or the one before, of the layouts that suit the sheet's photos", "layout"),
  key("bench", "k", "K", "keep areas, on or off", "keeps"),
  key("bench", "b", "B", "before and after mending", "before"),
  key("bench", "o", "O", "as the lab's press prints it, on or off", "proof"),
  key("bench", "n", "N", "numbers and guide notes, on or off", "notes"),
  key("bench", "g", "G", "trim, bleed and safe lines, on or off", "guides"),
  key("bench", "PageUp PageDown", "Page Up, Page Down", "previous, next sheet", "turnPage"),
  key("bench", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", true),
  key("bench", "y", "Ctrl Y", "redo", "redo", true),
  key("bench", "a", "Ctrl A", "select all openings of the sheet", "selectAll", true),
  key("bench", "+ = -", "Ctrl +, Ctrl −", "larger, smaller view", "view", true),
  key("bench", "Home", "Home", "the whole sheet in view", "wholeSheet"),
  key("bench", "End", "End", "the sheet as large as it prints", "printSize"),
]; // biome-ignore format: a table

/** What the mouse does with a key held, for the help. */
export const WITH_THE_MOUSE: readonly [string, string][] = [
  ["Tab, Shift Tab", "next or previous opening"],
  ["Ctrl wheel", "larger or smaller view about the pointer"],
  ["Space or middle button, pulled", "moves the sheet about"],
  ["Alt wheel on a selected photo", "zooms the photo"],
  ["Shift click, Ctrl click", "select one more opening"],
  ["Alt while pulling", "free of lines that draw"],
  ["Escape while pulling", "as it was before the pull"],
];

export const SCOPES: readonly [Scope, string][] = [
  ["bench", "Anywhere"],
  ["opening", "An opening selected"],
  ["walk", "In a walk"],
  ["hand", "Something in hand"],
  ["preview", "Shown before it is kept"],
];

interface Pressed {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}

/** The first entry of the table that a key press means, of the scopes that are open, given first to last. */
export function meant(event: Pressed, scopes: readonly Scope[]): Key | undefined {
  if (event.altKey) return undefined;
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const ctrl = event.ctrlKey || event.metaKey;
  for (const scope of scopes) {
    const found = KEYS.find(
      (entry) => entry.scope === scope && !!entry.ctrl === ctrl && entry.keys.includes(name),
    );
    if (found) return found;
  }
  return undefined;
}

const TYPED = new Set([
  "text",
  "number",
  "search",
  "email",
  "password",
  "tel",
  "url",
  "color",
  "date",
  "month",
]);

/** Whether keys are being typed into something, or steer a menu or a dialogue: they are none of the bench's then. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof Element)) return false;
  if (target.closest("textarea, select, [contenteditable=true], [role=dialog], [role=menu], [role=listbox]"))
    return true;
  const input = target.closest("input");
  return !!input && TYPED.has(input.type);
}

/** Whether a key belongs to what has the focus: a slider's or a set of choices' arrows, a button's Enter. */
export function isTheControls(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof Element)) return false;
  if (name.startsWith("Arrow") || name === "Home" || name === "End")
    return !!target.closest("[role=slider], input[type=radio], [role=tab]");
  if (name === "Enter") return !!target.closest("button, a, summary, [role=button]");
  return name === " ";
}

/** How the photo lies after a key; undefined when the key means nothing to it. */
export function fitByKey(held: Held, key: string, shift: boolean): Lying | undefined {
  const { outline, photo, lying } = held;
  const step = shift ? FINE_MM : STEP_MM;
  const turn = (by: number): Lying => ({
    ...lying,
    turn_deg: Math.round((lying.turn_deg + by) * 1000) / 1000,
  });
  switch (key) {
    case "ArrowLeft":
      return shifted(outline, photo, lying, [-step, 0]);
    case "ArrowRight":
      return shifted(outline, photo, lying, [step, 0]);
    case "ArrowUp":
      return shifted(outline, photo, lying, [0, -step]);
    case "ArrowDown":
      return shifted(outline, photo, lying, [0, step]);
    case "+":
    case "=":
      return zoomed(outline, photo, lying, 1.02, [0, 0]);
    case "-":
    case "_":
      return zoomed(outline, photo, lying, 1 / 1.02, [0, 0]);
    case "[":
      return turn(0.1);
    case "]":
      return turn(-0.1);
    case "{":
      return turn(1);
    case "}":
      return turn(-1);
    case "m":
    case "M":
      return { ...lying, mirror: !lying.mirror, turn_deg: -lying.turn_deg, centre: lying.centre };
    case "w":
    case "W":
      return { ...lying, fit: lying.fit === "whole" ? "cover" : "whole" };
    case "0":
      return { fit: "cover", centre: [0.5, 0.5], zoom: 1, turn_deg: 0, mirror: lying.mirror, ratio: null };
    default:
      return undefined;
  }
}
