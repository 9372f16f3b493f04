/**
 * What a person reads. English stands in the code, and is what a message will be found by in the files of other languages; all of
 * it is listed in `web/messages.txt`, to be read from top to bottom.
 */
import { createInstance } from "i18next";
import { language } from "./language";

type Values = Record<string, unknown>;

const words = createInstance();
words.init({
  lng: language,
  initAsync: false,
  resources: {},
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
