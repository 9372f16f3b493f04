/** Sheets carried from place to place by the pointer: their ids, with spaces between. */
export const CARRIED = "application/x-sutaru-sheets";

/** Photos carried out of the pile: their ids, with spaces between. */
export const PHOTO_TYPE = "text/sutaru-photo";
