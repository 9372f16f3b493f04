/** The languages that Sutaru speaks, and which of them is spoken: the one that was chosen, else the first of the browser's. */

/** Each by its own name. */
export const LANGUAGES = {
  en: "English",
  de: "Deutsch",
  fr: "Français",
  es: "Español",
  ja: "日本語",
  ar: "العربية",
} as const;
export type Language = keyof typeof LANGUAGES;

const CHOSEN = "sutaru.language";

const isSpoken = (code: string | null): code is Language => !!code && Object.hasOwn(LANGUAGES, code);

function chosen(): string | null {
  try {
    return localStorage.getItem(CHOSEN);
  } catch {
    return null; // a browser that keeps nothing
  }
}

const asked = typeof navigator === "undefined" ? [] : (navigator.languages ?? [navigator.language]);

/** The language of the words. */
export const language: Language =
  [chosen(), ...asked.map((code) => code.split("-")[0] ?? "")].find(isSpoken) ?? "en";

/** What numbers and dates are written by: the browser's kind of that language; where none was chosen, simply the browser's. */
export const locale: string =
  asked.find((code) => code.split("-")[0] === language) ?? (chosen() ? language : (asked[0] ?? "en-GB"));

/** Arabic is read from right to left; photos and sheets stay as they are. */
export const direction = language === "ar" ? "rtl" : "ltr";

/** Speaks a language from now on: the screen is loaded anew in it, as every change is stored already. */
export function choose(code: Language) {
  localStorage.setItem(CHOSEN, code);
  location.reload();
}
