/** Numbers as people read them. */

import { t } from "../words";
import { language, locale } from "../words/language";

const MM_PER_INCH = 25.4;

const write = (value: number, least: number, most: number) =>
  value.toLocaleString(locale, {
    minimumFractionDigits: least,
    maximumFractionDigits: most,
    useGrouping: false,
    signDisplay: "negative", // nothing is "-0"
    numberingSystem: "latn",
  });

/** A number as the reader's language writes it, with no more digits after its point than are told. */
export const trimmed = (value: number, digits: number) => write(value, 0, digits);

/** The same with as many digits as are told, so that figures stand below one another. */
export const fixed = (value: number, digits: number) => write(value, digits, digits);

/** A price, with its currency where the lab names one. */
export const money = (value: number, currency: string) =>
  currency
    ? value.toLocaleString(locale, { style: "currency", currency, numberingSystem: "latn" })
    : fixed(value, 2);

/** A size in inches when both sides are whole eighths of an inch, else in millimetres. */
export function pageSize(width: number, height: number): string {
  const eighths = [width, height].map((side) => (side / MM_PER_INCH) * 8);
  if (eighths.every((side) => Math.abs(side - Math.round(side)) < 0.01))
    return `${eighths.map((side) => trimmed(side / 8, 3)).join(" × ")} in`;
  return `${[width, height].map((side) => trimmed(side, 1)).join(" × ")} mm`;
}

/** What a sheet measures, and what it folds to. */
export function sheetSize(width: number, height: number, folded?: [number, number] | null): string {
  const flat = pageSize(width, height);
  return folded ? t("{flat}, folds to {folded}", { flat, folded: pageSize(...folded) }) : flat;
}

export const percent = (share: number) => `${Math.round(share * 100)} %`;

export const pixels = (mm: number, ppi: number) => Math.floor((mm / MM_PER_INCH) * ppi + 0.5);

export function bytes(count: number): string {
  return count < 1_000_000
    ? `${Math.max(1, Math.round(count / 1000))} kB`
    : `${trimmed(count / 1_000_000, 1)} MB`;
}

/** What templates are for. */
export const PRODUCTS = ["album", "card", "collage", "calendar", "mockup"];

/** Numbers or names in a row, as a sentence has them: 1, 30 and 31. */
export const listed = (some: readonly (number | string)[]) =>
  new Intl.ListFormat(language, { type: "conjunction" }).format(some.map(String));
