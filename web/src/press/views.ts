/** What a press's proof shows, in words. */
import type { paths } from "../api/schema";

export type ProofView = NonNullable<
  NonNullable<paths["/api/drawn/{key}/picture"]["get"]["parameters"]["query"]>["proof"]
>;

export const VIEWS: [ProofView, string, string][] = [
  ["paper", "With paper white", "Ink colours on the paper's own white"],
  ["press", "Inks only", "Ink colours, with the paper shown as pure white"],
  ["reach", "Out of gamut", "Marks colours that the press cannot print; the stronger, the further off"],
  ["ink", "Over ink limit", "Marks areas over the press's total ink limit"],
  ["cyan", "C", "The cyan plate"],
  ["magenta", "M", "The magenta plate"],
  ["yellow", "Y", "The yellow plate"],
  ["black", "K", "The black plate"],
];
