/** What is in hand in the workshop. */
export type Tool =
  | "select"
  | "rectangle"
  | "rounded"
  | "ellipse"
  | "polygon"
  | "freehand"
  | "fill"
  | "words"
  | "dates"
  | "note"
  | "area";
