/** Sheets carried from place to place by the pointer: their ids, with spaces between. */
export const CARRIED = "application/x-sutaru-sheets";
