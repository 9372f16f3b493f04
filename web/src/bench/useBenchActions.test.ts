import { expect, it } from "vitest";
import { KEYS } from "./keys";
import { OF_A_PHOTO, OF_A_TEXT, OF_THE_SHEET } from "./useBenchActions";

it("a key that has a name stands in one group of a menu, and every entry of a menu is a key", () => {
  const named = (scope: string) =>
    KEYS.flatMap(({ scope: its, name }) => (its === scope && name ? [name] : []));
  expect(OF_A_PHOTO.flat().sort()).toEqual(named("opening").sort());
  expect(OF_A_TEXT.flat().sort()).toEqual(named("text").sort());
  expect(OF_THE_SHEET.flat().sort()).toEqual(named("bench").sort());
});
