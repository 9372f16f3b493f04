/** The keys of the workshop, and the tools that some of them take up. */
import { key } from "../ui/keys";
import type { Tool } from "./tool";

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

export const TABLE_KEYS = [
  ...TOOLS.map((one) => key("tool", one.key, one.key.toUpperCase(), one.hint, "takeUp")),
  key("tool", "b", "B", "ornaments", "ornaments"),
  key("sheet", "Enter", "Enter", "on words: type them on the sheet, as a double click does; with a tool in hand: lay what it makes in the middle of the sheet", "enter"),
  key("sheet", "ArrowLeft ArrowRight ArrowUp ArrowDown", "Arrows", "move by 1 mm (with Shift by 0.1 mm)", "carry"),
  key("sheet", "Delete Backspace", "Delete", "take away what is selected", "remove"),
  key("sheet", "d", "Ctrl D", "the same again, beside it", "repeat", "ctrl"),
  key("sheet", "g", "Ctrl G, Ctrl Shift G", "group; take a group apart", "group", "ctrl"),
  key("sheet", "a", "Ctrl A", "select all", "selectAll", "ctrl"),
  key("sheet", "[ ]", "[  ]", "one down, one up in the stack", "restack"),
  key("sheet", "Escape", "Escape", "let go: of the tool, then of what is selected", "letGo"),
  key("sheet", "z", "Ctrl Z, Ctrl Shift Z", "undo, redo", "undo", "ctrl"),
  key("sheet", "y", "Ctrl Y", "redo", "redo", "ctrl"),
  key("sheet", "PageUp PageDown", "Page Up, Page Down", "previous, next sheet", "turnPage"),
  key("sheet", "+ = -", "Ctrl +, Ctrl −", "larger, smaller view", "view", "ctrl"),
]; // biome-ignore format: a table

/** What the mouse does with a key held, for the help. */
export const WITH_THE_MOUSE: readonly { shown: string; what: string }[] = [
  { shown: "Ctrl while pulling", what: "a copy stays where it was" },
  { shown: "Alt while pulling", what: "free of lines that draw" },
];
