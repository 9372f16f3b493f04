import { t } from "../words";
/** What words may name in braces, and where it comes from. A date may say how: {date:d MMMM y}. */
export const FIELDS = [
  ["customer", t("the order's")],
  ["title", t("said of the order or sheet")],
  ["date", t("said of the order")],
  ["year", t("of the month or date")],
  ["month", t("of the sheet or date")],
  ["page", t("its number")],
  ["pages", t("how many there are")],
  ["edition", t("its name")],
  ["order", t("the order number")],
  ["photo.caption", t("written in the photo's file")],
  ["photo.date", t("when it was taken")],
  ["photo.name", t("its file's")],
  ["studio.name", t("studio card")],
  ["studio.address", t("studio card")],
  ["studio.web", t("studio card")],
  ["studio.phone", t("studio card")],
  ["studio.mail", t("studio card")],
] as const;

/** Names of fields that words name in braces. */
export const fieldsIn = (words: string) =>
  [...words.matchAll(/\{([a-z][a-z0-9_]*(?:\.[a-z]+)?)(?::[^{}\n]{1,60})?\}/g)].map(([, name = ""]) => name);
