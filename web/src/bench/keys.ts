/** Everything in fitting has a key. The table is shown on the bench, so that what is listed is what works. */

import type { Held } from "./fitting";
import { type Lying, shifted, zoomed } from "./placing";

const STEP_MM = 1;
const FINE_MM = 0.1;

export const KEYS: readonly [string, string][] = [
  ["Enter", "walk: from opening to opening, close up"],
  ["1 to 9 in a walk", "take the next-best photo of the pile"],
  ["Tab, Shift Tab", "next or previous opening"],
  ["Shift click, Ctrl click", "select one more opening"],
  ["Arrows", "shift the photo by 1 mm (with Shift by 0.1 mm)"],
  ["+  −", "zoom in, out"],
  ["[  ]", "turn left, right by 0.1° (with Shift by 1°)"],
  ["M", "mirror"],
  ["W", "whole photo, or covering"],
  ["0", "fit anew: covering, centred"],
  ["S", "take the photo in hand, to swap it with another opening's"],
  ["C", "the whole photo: crop, straighten, keep areas"],
  ["P", "pin the opening, so that no filling touches it"],
  ["V", "bring what must stay visible into view"],
  ["Enter with a hand", "put down what it holds"],
  ["X", "skip the next photo in hand"],
  ["Delete", "clear the opening"],
  ["Escape", "let go"],
  ["K", "keep areas on, off"],
  ["H", "ppi over the selected opening on, off"],
  ["B", "before and after mending"],
  ["N", "numbers and guide notes on, off"],
  ["G", "trim, bleed and safe lines on, off"],
  ["F", "fill the empty openings"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["Page Up, Page Down", "previous, next page"],
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
