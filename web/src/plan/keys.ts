/** The keys of the flat plan. */
import { key } from "../ui/keys";

/** With a sheet in focus, or anywhere in the plan. */
export const PLAN_KEYS = [
  key("sheet", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "another sheet (with Shift all up to it)", "walk"),
  key("sheet", "Space", "Space, Ctrl click", "add to or remove from the selection", "toggle"),
  key("sheet", "Enter", "Enter, double click", "open it on the bench", "open", "", "Open on the bench"),
  key("plan", "ArrowLeft ArrowRight", "Alt ←, Alt →", "move left, move right", "step", "alt"),
  key("plan", "d", "Ctrl D, Ctrl Shift D", "duplicate: the layout, or with its photos", "copy", "ctrl", "Duplicate"),
  key("plan", "Delete", "Delete", "delete the selection", "remove", "", "Delete"),
  key("plan", "a", "Ctrl A", "select all sheets", "selectAll", "ctrl", "Select all"),
  key("plan", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl", "Undo"),
  key("plan", "y", "Ctrl Y", "redo", "redo", "ctrl", "Redo"),
  key("plan", "Escape", "Escape", "cancel placing, or of the selection", "letGo"),
]; // biome-ignore format: a table
