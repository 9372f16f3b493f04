/** The keys of the room where a photo is retouched. */
import { key } from "../../../ui/keys";
import { t } from "../../../words";
import type { Tool } from "./brush";

export const TOOLS: readonly { tool: Tool; key: string; label: string; hint: string }[] = [
  { tool: "heal", key: "h", label: t("Heal"), hint: t("Draw over what should go, or click a speck. A source is chosen and blended in.") },
  { tool: "clone", key: "c", label: t("Clone"), hint: t("Choose a source, then draw: it is laid down as it is.") },
  { tool: "fill", key: "f", label: t("Fill"), hint: t("Draw along a hair or a scratch: what lies on both sides runs on through it.") },
  { tool: "area", key: "a", label: t("Area"), hint: t("Draw what is to change.") },
  { tool: "subject", key: "u", label: t("Subject"), hint: t("Draw along the middle of the subject: it is cut out.") },
  { tool: "eye", key: "e", label: t("Eye"), hint: t("Click into a pupil that a flash made red or green.") },
]; // biome-ignore format: a table

const ARROWS = "ArrowLeft ArrowRight ArrowUp ArrowDown";

/** On the photo itself, or anywhere in the room. */
export const RETOUCH_KEYS = [
  key("photo", ARROWS, "Arrows", "move the brush by 8 px of the screen (with Shift by 40)", "move"),
  key("photo", "Enter", "Enter, Shift Enter", "set the brush down, or a corner of an outline; close the outline", "setDown"),
  key("photo", "Space", "Space, pulled", "move the photo about", "holdStill"),
  ...TOOLS.map((one) => key("room", one.key, one.key.toUpperCase(), one.label.toLowerCase(), "takeUp")),
  key("room", "s", "S, Ctrl click", "choose the source", "chooseSource"),
  key("room", "[ ] { }", "[  ]", "a smaller, a larger brush (with Shift a harder, a softer one)", "size"),
  key("room", "0 1 2 3 4 5 6 7 8 9", "1 to 9, 0", "strength 10 % to 90 %, 100 %", "strength"),
  key("room", ARROWS, "Alt arrows", "move the touch selected (with Shift further)", "carry", "alt"),
  key("room", "Delete Backspace", "Delete", "delete the selected edit", "remove"),
  key("room", "b", "B", "before, on or off", "before"),
  key("room", "w", "W", "split view, on or off", "wiper"),
  key("room", "+ = -", "+  −", "closer, further away", "zoom"),
  key("room", "Home", "Home", "the whole photo", "whole"),
  key("room", "End", "End", "100 %", "pixels"),
  key("room", "p", "P", "print size", "printSize"),
  key("room", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl"),
  key("room", "y", "Ctrl Y", "redo", "redo", "ctrl"),
  key("room", "Escape", "Escape", "cancel, then leave", "letGo"),
]; // biome-ignore format: a table

export const WITH_THE_MOUSE: readonly { shown: string; what: string }[] = [
  { shown: t("Wheel"), what: t("closer, further away, about the pointer") },
  { shown: t("Middle button, pulled"), what: t("moves the photo about") },
  { shown: t("Shift click"), what: t("a straight stroke from where the last one ended") },
];
