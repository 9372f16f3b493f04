/**
 * What a person reads, in the language that was chosen. English stands in the code, and is what a message is found by; the other
 * languages are message files, `sutaru/words/*.po`. This module waits for its language, so that a table may hold words as well.
 */
import { createInstance } from "i18next";
import { language } from "./language";

type Values = Record<string, unknown>;

const files = import.meta.glob<Record<string, string>>("../../../sutaru/words/*.po", { import: "default" });
const file = files[`../../../sutaru/words/${language}.po`];

const words = createInstance();
words.init({
  lng: language,
  initAsync: false,
  resources: file ? { [language]: { translation: await file() } } : {},
  fallbackLng: false,
  keySeparator: false,
  nsSeparator: false,
  interpolation: { prefix: "{", suffix: "}", escapeValue: false },
  missingInterpolationHandler: (_: string, [placeholder]: RegExpExecArray) => placeholder, // {job} in a file name's pattern
});

/** A message: "Opening {number}", { number: 3 }. */
export const t = (message: string, values?: Values): string => words.t(message, { ...values });

/** A message by how many there are, which stands in it as {n}. */
export const tn = (n: number, singular: string, plural: string, values?: Values): string =>
  words.t(plural, { count: n, n, defaultValue_one: singular, defaultValue_other: plural, ...values });
