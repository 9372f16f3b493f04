/** The language of the words: English, until there are others. */
export const language = "en";

/** What numbers and dates are written by: the browser's language. */
export const locale = typeof navigator === "undefined" ? "en-GB" : navigator.language;
