/** The keys of the flat plan. */
import { key } from "../ui/keys";

/** With a sheet in focus, or anywhere in the plan. */
export const PLAN_KEYS = [
  key("sheet", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "another sheet (with Shift all up to it)", "walk"),
  key("sheet", "Space", "Space, Ctrl click", "select it too, or no longer", "toggle"),
  key("sheet", "Enter", "Enter, double click", "open it on the bench", "open"),
  key("plan", "ArrowLeft ArrowRight", "Alt ←, Alt →", "move left, move right", "step", "alt"),
  key("plan", "d", "Ctrl D, Ctrl Shift D", "duplicate: the layout, or with its photos", "copy", "ctrl"),
  key("plan", "Delete", "Delete", "take away what is selected", "remove"),
  key("plan", "a", "Ctrl A", "select all sheets", "selectAll", "ctrl"),
  key("plan", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl"),
  key("plan", "y", "Ctrl Y", "redo", "redo", "ctrl"),
  key("plan", "Escape", "Escape", "let go of what is in hand, or of the selection", "letGo"),
]; // biome-ignore format: a table
