/** The language that numbers and dates are written in: the browser's. */
export const language = typeof navigator === "undefined" ? "en-GB" : navigator.language;
