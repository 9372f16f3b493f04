/** The keys of the bench. */
import type { Held } from "../editing/fitting";
import { type Lying, shifted, zoomed } from "../geometry/placing";
import { key } from "../ui/keys";
import { t } from "../words";

const STEP_MM = 1;
const FINE_MM = 0.1;

export const KEYS = [
  key("preview", "Enter", "Enter", "apply", "keepPreview"),
  key("preview", "Escape", "Escape", "cancel", "leavePreview"),
  key("walk", "Enter Tab", "Enter, Shift Enter", "accept and go on, or back", "goOn"),
  key("walk", "1 2 3 4 5 6 7 8 9", "1 to 9", "take the next-best photo of the pile", "take"),
  key("walk", "Escape", "Escape", "end the walk", "endWalk"),
  key("hand", "Enter", "Enter on an opening", "place the photo picked up", "putDown"),
  key("hand", "+ =", "+", "add the photos picked up to the sheet; it is composed anew", "addToSheet"),
  key("hand", "x", "X", "skip the next photo", "skip"),
  key("hand", "Escape", "Escape", "cancel placing", "letGo"),
  key("text", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "shift the text box by 1 mm (with Shift by 0.1 mm)", "moveText"),
  key("text", "Delete Backspace", "Delete", "delete the text box", "deleteText", "", "Delete text"),
  key("opening", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "shift the photo by 1 mm (with Shift by 0.1 mm)", "fit"),
  key("opening", "+ = - _", "+  −", "zoom in, out", "fit"),
  key("opening", "[ ] { }", "[  ]", "turn left, right by 0.1° (with Shift by 1°)", "fit"),
  key("opening", "m", "M", "mirror", "fit", "", "Mirror"),
  key("opening", "w", "W", "whole photo, or covering", "fit", "", "Whole photo, or cover"),
  key("opening", "0", "0", "reset fit: cover, centred", "fit", "", "Reset fit"),
  key("opening", "s", "S", "pick up the photo, to swap it with another opening's", "swap", "", "Swap with another opening"),
  key("opening", "c", "C", "the whole photo: crop, straighten, keep areas", "crop", "", "Crop and straighten"),
  key("opening", "r", "R", "retouch the photo: heal, clone, fill, areas made lighter, dust", "retouch", "", "Retouch"),
  key("opening", "p", "P", "pin the openings selected, so that no filling touches them", "pin", "", "Pin, or unpin"),
  key("opening", "> .", ">", "make the photo larger on the sheet; the others make room", "larger", "", "Make larger on the sheet"),
  key("opening", "< ,", "<", "make the photo smaller on the sheet", "smaller", "", "Make smaller on the sheet"),
  key("opening", "Delete Backspace", "Alt Delete", "take the photo off the sheet; the others close up", "takeOff", "alt", "Take off the sheet"),
  key("opening", "v", "V", "show keep areas in frame", "keepInView", "", "Show keep areas in frame"),
  key("opening", "Delete Backspace", "Delete", "clear the openings selected", "clear", "", "Clear"),
  key("opening", "h", "H", "ppi over the opening, on or off", "heat", "", "Resolution over the opening"),
  key("bench", "Enter", "Enter", "walk: from opening to opening, close up", "walk", "", "Walk"),
  key("bench", "Escape", "Escape", "deselect", "letGo"),
  key("bench", "f", "F", "fill the empty openings", "fill", "", "Fill the empty openings"),
  key("bench", "l", "L, Shift L", "the next, or the one before, of the layouts that suit the sheet's photos", "layout", "", "Next layout"),
  key("bench", "t", "T", "add text to the sheet", "addText", "", "Add text"),
  key("bench", "e", "E", "the pile: a grid over the stage, or a strip", "openPile", "", "Pile as a grid, or a strip"),
  key("bench", "k", "K", "keep areas, on or off", "keeps", "", "Keep areas, on or off"),
  key("bench", "b", "B", "before and after adjustments", "before", "", "Before and after adjustments"),
  key("bench", "o", "O", "as the lab's press prints it, on or off", "proof", "", "Press preview, on or off"),
  key("bench", "n", "N", "numbers and guide notes, on or off", "notes", "", "Numbers and notes, on or off"),
  key("bench", "g", "G", "trim, bleed and safe lines, on or off", "guides", "", "Cut lines, on or off"),
  key("bench", "PageUp PageDown", "Page Up, Page Down", "previous, next sheet", "turnPage"),
  key("bench", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl", "Undo"),
  key("bench", "y", "Ctrl Y", "redo", "redo", "ctrl", "Redo"),
  key("bench", "a", "Ctrl A", "select all openings of the sheet", "selectAll", "ctrl", "Select all openings"),
  key("bench", "+ = -", "Ctrl +, Ctrl −", "larger, smaller view", "view", "ctrl"),
  key("bench", "Home", "Home", "the whole sheet in view", "wholeSheet", "", "Whole sheet in view"),
  key("bench", "End", "End", "the sheet as large as it prints", "printSize", "", "Print size"),
]; // biome-ignore format: a table

/** What the mouse does with a key held, for the help. */
export const WITH_THE_MOUSE: readonly { shown: string; what: string }[] = [
  { shown: t("Tab, Shift Tab"), what: t("next or previous opening") },
  { shown: t("Ctrl wheel"), what: t("larger or smaller view about the pointer") },
  { shown: t("Space or middle button, pulled"), what: t("moves the sheet about") },
  { shown: t("Alt wheel on a selected photo"), what: t("zooms the photo") },
  { shown: t("Shift click, Ctrl click"), what: t("select one more opening") },
  { shown: t("Alt while pulling"), what: t("without snapping") },
  { shown: t("Escape while pulling"), what: t("cancel the pull") },
];

/** Anywhere on the bench, with an opening selected, in a walk, with something in hand, before keeping. */
export type Scope = (typeof KEYS)[number]["scope"];

export const SCOPES: readonly [Scope, string][] = [
  ["bench", t("Anywhere")],
  ["opening", t("An opening selected")],
  ["text", t("A text box selected")],
  ["walk", t("In a walk")],
  ["hand", t("Photos picked up")],
  ["preview", t("Preview")],
];

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
