import { locale } from "../words/language";

/** Moments as the browser's language writes them: "01:59" for today, "26 Nov 2026" for other days; both with `moment`. */
const CLOCK = { hour: "2-digit", minute: "2-digit" } as const;
const DAY = { day: "numeric", month: "short", year: "numeric" } as const;
const words = (stamp: string, how: Intl.DateTimeFormatOptions) => new Date(stamp).toLocaleString(locale, how);

export const clock = (stamp: string) => words(stamp, CLOCK);
export const day = (stamp: string) => words(stamp, DAY);

/** Today by the clock, else by the day. */
export const when = (stamp: string) =>
  new Date().toDateString() === new Date(stamp).toDateString() ? clock(stamp) : day(stamp);

export const moment = (stamp: string) => `${day(stamp)}, ${clock(stamp)}`;
