/** The keys of the workshop, and the tools that some of them take up. */
import { key } from "../ui/keys";
import { t } from "../words";
import type { Tool } from "./tool";

export const TOOLS: readonly { tool: Tool; key: string; label: string; hint: string }[] = [
  { tool: "select", key: "v", label: t("Select"), hint: t("Select, move, resize and rotate layers") },
  { tool: "rectangle", key: "r", label: t("Rectangle"), hint: t("Draw a rectangular opening (Shift: a square)") },
  { tool: "rounded", key: "o", label: t("Rounded"), hint: t("Draw an opening with round corners") },
  { tool: "ellipse", key: "e", label: t("Ellipse"), hint: t("Draw an elliptic opening (Shift: a circle)") },
  { tool: "polygon", key: "p", label: t("Polygon"), hint: t("Click corners of an opening; the first one, Enter or a double click closes it") },
  { tool: "freehand", key: "d", label: t("Freehand"), hint: t("Draw an opening by hand") },
  { tool: "fill", key: "c", label: t("Shape"), hint: t("Draw a shape of one colour") },
  { tool: "dates", key: "m", label: t("Date grid"), hint: t("Draw a box for the days of a month") },
  { tool: "words", key: "t", label: t("Text"), hint: t("Draw a text box") },
  { tool: "note", key: "n", label: t("Note"), hint: t("Draw a note to whoever fills the sheet; it never prints") },
  { tool: "area", key: "k", label: t("Detect opening"), hint: t("Point at a hole, or an area of one colour, in a picture: it becomes an opening") },
]; // biome-ignore format: a table

export const TABLE_KEYS = [
  ...TOOLS.map((one) => key("tool", one.key, one.key.toUpperCase(), one.hint, "takeUp", "", `${one.label} tool`)),
  key("tool", "b", "B", "ornaments", "ornaments", "", "Ornaments"),
  key("sheet", "Enter", "Enter", "on words: type them on the sheet, as a double click does; with a tool chosen: add what it makes in the middle of the sheet", "enter"),
  key("sheet", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "move by 1 mm (with Shift by 0.1 mm)", "carry"),
  key("sheet", "Delete Backspace", "Delete", "delete the selection", "remove", "", "Delete"),
  key("sheet", "d", "Ctrl D", "duplicate", "repeat", "ctrl", "Duplicate"),
  key("sheet", "g", "Ctrl G, Ctrl Shift G", "group, ungroup", "group", "ctrl", "Group"),
  key("sheet", "a", "Ctrl A", "select all", "selectAll", "ctrl", "Select all"),
  key("sheet", "]", "]", "one up in the stack", "restack", "", "Bring forward"),
  key("sheet", "[", "[", "one down in the stack", "restack", "", "Send backward"),
  key("sheet", "Escape", "Escape", "cancel the tool, then deselect", "letGo"),
  key("sheet", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl", "Undo"),
  key("sheet", "y", "Ctrl Y", "redo", "redo", "ctrl", "Redo"),
  key("sheet", "PageUp PageDown", "Page Up, Page Down", "previous, next sheet", "turnPage"),
  key("sheet", "+ = -", "Ctrl +, Ctrl −", "larger, smaller view", "view", "ctrl"),
]; // biome-ignore format: a table

/** What the mouse does with a key held, for the help. */
export const WITH_THE_MOUSE: readonly { shown: string; what: string }[] = [
  { shown: t("Ctrl while pulling"), what: t("a copy stays where it was") },
  { shown: t("Alt while pulling"), what: t("without snapping") },
];
