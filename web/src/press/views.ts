/** What a press's proof shows, in words. */
import type { paths } from "../api/schema";
import { t } from "../words";

export type ProofView = NonNullable<
  NonNullable<paths["/api/drawn/{key}/picture"]["get"]["parameters"]["query"]>["proof"]
>;

export const VIEWS: [ProofView, string, string][] = [
  ["paper", t("With paper white"), t("Ink colours on the paper's own white")],
  ["press", t("Inks only"), t("Ink colours, with the paper shown as pure white")],
  ["reach", t("Out of gamut"), t("Marks colours that the press cannot print; the stronger, the further off")],
  ["ink", t("Over ink limit"), t("Marks areas over the press's total ink limit")],
  ["cyan", "C", t("The cyan plate")],
  ["magenta", "M", t("The magenta plate")],
  ["yellow", "Y", t("The yellow plate")],
  ["black", "K", t("The black plate")],
];
