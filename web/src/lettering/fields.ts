/** What words may name in braces, and where it comes from. A date may say how: {date:d MMMM y}. */
export const FIELDS = [
  ["customer", "the order's"],
  ["title", "said of the order or sheet"],
  ["date", "said of the order"],
  ["year", "of the month or date"],
  ["month", "of the sheet or date"],
  ["page", "its number"],
  ["pages", "how many there are"],
  ["edition", "its name"],
  ["order", "the order number"],
  ["photo.caption", "written in the photo's file"],
  ["photo.date", "when it was taken"],
  ["photo.name", "its file's"],
  ["studio.name", "studio card"],
  ["studio.address", "studio card"],
  ["studio.web", "studio card"],
  ["studio.phone", "studio card"],
  ["studio.mail", "studio card"],
] as const;

/** Names of fields that words name in braces. */
export const fieldsIn = (words: string) =>
  [...words.matchAll(/\{([a-z][a-z0-9_]*(?:\.[a-z]+)?)(?::[^{}\n]{1,60})?\}/g)].map(([, name = ""]) => name);
