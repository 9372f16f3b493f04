/** What a press's proof shows, in words. */
import type { paths } from "../api/schema";

export type ProofView = NonNullable<
  NonNullable<paths["/api/drawn/{key}/picture"]["get"]["parameters"]["query"]>["proof"]
>;

export const VIEWS: [ProofView, string, string][] = [
  ["paper", "On its paper", "As the inks look on the paper, whose white is not the screen's"],
  ["press", "Inks alone", "As the inks look, the paper taken as white"],
  ["reach", "Out of reach", "Marked: colours that the press prints otherwise, the stronger the farther"],
  ["ink", "Too much ink", "Marked: where more ink would lie than the press takes"],
  ["cyan", "C", "The cyan plate"],
  ["magenta", "M", "The magenta plate"],
  ["yellow", "Y", "The yellow plate"],
  ["black", "K", "The black plate"],
];
