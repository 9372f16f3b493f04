/** Fields of a frame that are set on several openings at once. Pure. */
import type { Opening } from "../../api/client";

type Fields = Record<string, unknown>;

/**
 * Which fields each of some openings is given. A part of a border, mat or shadow is set where there is one; an opening
 * without gets the whole of it, as the first has it.
 */
export function frameEdits(
  first: Opening,
  layers: readonly Opening[],
  fields: Fields,
): { ids: string[]; fields: Fields }[] {
  const lacking = (layer: Opening) =>
    Object.keys(fields).find((path) => path.includes(".") && !layer[partOf(path)]);
  const able = layers.filter((layer) => !lacking(layer));
  const bare = layers.filter(lacking);
  const whole = Object.fromEntries(
    Object.entries(fields).map(([path, value]) => {
      const [part, name] = [partOf(path), path.split(".")[1] ?? ""];
      return name ? [part, { ...(first[part] as object), [name]: value }] : [path, value];
    }),
  );
  return [
    ...(able.length ? [{ ids: able.map(({ id }) => id), fields }] : []),
    ...(bare.length ? [{ ids: bare.map(({ id }) => id), fields: whole }] : []),
  ];
}

const partOf = (path: string) => path.split(".")[0] as keyof Opening;
