/** Which colours layers are painted with, and by which of their fields. Pure. */
import { insideOf, type Layer } from "./layers";

const FIELDS = ["colour", "border.colour", "mat.colour"];
const MOST = 8;

export interface ColourUse {
  colour: string;
  /** Ids of layers, by the field that has it. */
  where: Record<string, string[]>;
}

/** The colours of some layers and of all in their groups, the one used most first. */
export function colourUses(layers: readonly Layer[]): ColourUse[] {
  const uses = new Map<string, ColourUse>();
  for (const layer of layers.flatMap((one) => [one, ...insideOf(one)])) {
    if ("gradient" in layer && layer.gradient) continue; // its stops are its colours
    for (const field of FIELDS) {
      const colour = field
        .split(".")
        .reduce<unknown>((part, name) => (part as Record<string, unknown> | null)?.[name], layer);
      if (typeof colour !== "string") continue;
      const use = uses.get(colour) ?? { colour, where: {} };
      use.where[field] = [...(use.where[field] ?? []), layer.id];
      uses.set(colour, use);
    }
  }
  const count = ({ where }: ColourUse) => Object.values(where).flat().length;
  return [...uses.values()].sort((one, other) => count(other) - count(one)).slice(0, MOST);
}
