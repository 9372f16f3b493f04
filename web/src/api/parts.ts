/**
 * What has a name that never means anything else: parts of jobs, ledgers by key, places by layout. Fetched once, kept
 * while there is room, the longest unused let go. And facts of photos, of which only what was found in them changes.
 */
import { LRUCache } from "lru-cache";
import { answer, api, type JobHead, type Photo } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export interface Kinds {
  sheets: Schemas["StoredSheets"];
  editions: Schemas["StoredEdition"];
  fillings: Schemas["Filling"];
  retouchings: Schemas["Retouching"];
  layouts: Schemas["Layout"];
  piles: Schemas["StoredPile"];
  chunks: Schemas["StoredChunk"];
  labs: Schemas["LabSheet"];
  measured: Schemas["Measured"];
  places: Schemas["Places"];
}
type Kind = keyof Kinds;
const MOST_BYTES = 60_000_000;

/** By kind and name; a character is counted as a byte, as most of them are one. */
const held = new LRUCache<string, object>({
  maxSize: MOST_BYTES,
  sizeCalculation: (content, id) => id.length + JSON.stringify(content).length,
});
const pending = new Map<string, Promise<void>>();
const photos = new Map<string, Photo>();

/** A part, if it is here. */
export const part = <K extends Kind>(kind: K, name: string): Kinds[K] | undefined =>
  held.get(`${kind} ${name}`) as Kinds[K] | undefined;

export function keep<K extends Kind>(kind: K, name: string, content: Kinds[K]) {
  held.set(`${kind} ${name}`, content);
}

/** What is said of a pile's photos, in order; nothing while a chunk of it is not here, which `miss` is told. */
export function pilePhotos(
  pile: Kinds["piles"],
  miss: (chunk: string) => void = () => {},
): Schemas["StoredPhoto"][] | undefined {
  const chunks = (pile.chunks ?? []).map((name) => {
    const chunk = part("chunks", name);
    if (!chunk) miss(name);
    return chunk;
  });
  if (!chunks.every((chunk) => chunk !== undefined)) return undefined;
  return [...(pile.photos ?? []), ...chunks.flatMap((chunk) => chunk.photos)];
}

/** Keeps all that an answer brought. */
export function keepAll({ parts, measured, places }: JobHead) {
  for (const [kind, entries] of Object.entries(parts))
    for (const [name, content] of Object.entries(entries ?? {})) keep(kind as Kind, name, content as never);
  for (const [key, content] of Object.entries(measured)) keep("measured", key, content);
  for (const [layout, content] of Object.entries(places)) keep("places", layout, content);
}

const once = (id: string, fetch: () => Promise<void>): Promise<void> => {
  const under = pending.get(id);
  if (under) return under;
  const run = fetch().finally(() => pending.delete(id));
  pending.set(id, run);
  return run;
};

/** Fetches a part unless it is here or on its way. Throws Refused when the server does not know it any more. */
export function want(kind: Kind, name: string): Promise<void> {
  if (held.has(`${kind} ${name}`)) return Promise.resolve();
  return once(`${kind} ${name}`, async () => {
    if (kind === "measured")
      keep(
        kind,
        name,
        await answer(api.GET("/api/drawn/{key}/measured", { params: { path: { key: name } } })),
      );
    else if (kind === "places")
      keep(kind, name, await answer(api.GET("/api/layouts/{name}/places", { params: { path: { name } } })));
    else {
      const got = await answer<Record<string, Record<string, never>>>(
        api.GET("/api/parts/{kind}/{name}", { params: { path: { kind, name } } }),
      );
      keep(kind, name, got[kind]?.[name] as never);
      if (kind === "piles") await wantMany("chunks", part("piles", name)?.chunks ?? []);
    }
  });
}

/** Fetches fillings of sheets, or chunks of a pile, many at once. */
export async function wantMany(kind: "fillings" | "chunks", names: readonly string[]): Promise<void> {
  const missing = names.filter((name) => !held.has(`${kind} ${name}`));
  for (let start = 0; start < missing.length; start += 200) {
    const some = missing.slice(start, start + 200);
    await once(`${kind} ${some[0]} and ${some.length}`, async () => {
      const got = await answer<Record<string, Record<string, never>>>(
        api.POST("/api/parts/{kind}", { params: { path: { kind } }, body: { names: some } }),
      );
      for (const [name, content] of Object.entries(got[kind] ?? {})) keep(kind, name, content);
    });
  }
}

/** Facts of a photo, if they are here. */
export const facts = (id: string): Photo | undefined => photos.get(id);
export const keepFacts = (photo: Photo) => photos.set(photo.id, photo);

/** Fetches facts of photos: those not here, or with `again` all of these that are. Tells whether there was anything new. */
export async function wantFacts(ids: readonly string[], again = false): Promise<boolean> {
  const missing = ids.filter((id) => photos.has(id) === again);
  for (let start = 0; start < missing.length; start += 500) {
    const some = missing.slice(start, start + 500);
    await once(`facts ${some[0]} and ${some.length} ${again}`, async () => {
      for (const photo of await answer<Photo[]>(api.POST("/api/photos", { body: { ids: some } })))
        photos.set(photo.id, photo);
    });
  }
  return missing.length > 0;
}
