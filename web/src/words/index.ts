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
});

/** A message: "Opening {number}", { number: 3 }. */
export const t = (message: string, values?: Values): string =>
  words.t(message, { replace: values, nest: false });

/** A message by how many there are, which stands in it as {n}. */
export const tn = (n: number, singular: string, plural: string, values?: Values): string =>
  words.t(plural, {
    count: n,
    defaultValue_one: singular,
    defaultValue_other: plural,
    replace: { ...values, n },
    nest: false,
  });
