/** Colours by name: a sheet's swatches and the studio card's two. Pure. */
import type { View } from "../../editing/view";
import { t } from "../../words";

/** Named colours of a sheet, as layers name them, with what they are. */
export function namedColours(state: View): [name: string, hex: string][] {
  const swatches = Object.entries(state.layout.swatches ?? {}).map(([name, hex]): [string, string] => [
    `swatch ${name}`,
    hex,
  ]);
  const card = state.job.studio;
  return [
    ...swatches,
    [t("studio main"), card?.main ?? "#2f5d6b"],
    [t("studio second"), card?.second ?? "#b4532a"],
  ];
}

/** A colour as it is seen: #rrggbb. */
export const seenColour = (state: View, colour: string): string =>
  colour.startsWith("#") ? colour : (namedColours(state).find(([name]) => name === colour)?.[1] ?? "#808080");

/** How bright a colour #rrggbb looks, 0 to 255. */
export function brightness(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((n) => Number.parseInt(colour.slice(n, n + 2), 16));
  return 0.3 * red + 0.59 * green + 0.11 * blue;
}

/** What a named colour is called. */
export const called = (name: string): string =>
  name.startsWith("swatch ")
    ? name.slice(7)
    : name === "studio main"
      ? t("the studio's colour")
      : t("the studio's second colour");
