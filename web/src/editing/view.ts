/** A job as a screen sees it: one sheet of one edition, put together from parts. Pure: no fetching, no state. */
import type { Echo, EchoPlace, Edit, Filling, Finding, JobHead, LabSheet, Layout, Opening, Photo, Row, SheetMark, StoredEdit, StoredEdition, StoredSheet, Touch } from "../api/client"; // biome-ignore format: a list
import { facts, type Kinds, part, pilePhotos } from "../api/parts";
import type { Point } from "../geometry/placing";
import { carried, type Layer, mapped, placedBy } from "./relaid";
import { addLayers, removeLayers, repeatLayers, restackLayer } from "./stacking";

export interface View {
  id: string;
  seq: number;
  undo: string;
  redo: string;
  unseen: number;
  /** The newest revision of the template it began from; 0 when it has that. */
  newer: number;
  job: JobHead["job"];
  lab: LabSheet;
  sheets: StoredSheet[];
  marks: SheetMark[];
  /** Width and height of the sheet in view once folded, mm. */
  folded: [number, number] | null;
  own: StoredEdition;
  /** The sheet in view: which one, its layout, what lies on it, the key of all that decides how it looks. */
  at: number;
  sheet: StoredSheet;
  layout: Layout;
  filling: Filling;
  key: string;
  rows: Row[];
  findings: Finding[];
  /** How words begin that have fields in them, those filled in, by layer. */
  words: Record<string, string>;
  echoes: EchoPlace[];
  /** Corners of each layer's own box on the page, mm, by id; */
  frames: ReadonlyMap<string, readonly Point[]>;
  photos: Photo[];
  photo: ReadonlyMap<string, Photo>;
  /** Layers on their way, which no picture of the sheet shows yet. */
  coming?: readonly string[];
  /** Retouching of photos that is on its way; what is stored of it is a part of its own. */
  retouching?: RetouchPhoto[];
}
type RetouchPhoto = Extract<StoredEdit, { op: "retouch_photo" }>;

/** What is still to be fetched before a sheet can be shown. */
export type Missing = { kind: keyof Kinds; name: string }[];

/** A filling with nothing in it. */
const EMPTY: Filling = {
  placements: {},
  texts: {},
  runs: {},
  pins: [],
  spans: {},
  tones: {},
  by_hand: [],
  accepted: [],
};

/** The sheets that an edition of a variant has: all, or its own where a job holds those of several. */
export function sheetsOf(every: StoredSheet[], variant = ""): StoredSheet[] {
  const sheetsOfIt = every.filter((sheet) => (sheet.variant ?? "") === variant);
  return sheetsOfIt.length ? sheetsOfIt : every;
}

/** The sheet of a head, by id or else the first, put together; or what is missing for it. */
export function assembled(head: JobHead, id: string): View | Missing {
  const { job } = head;
  const missing: Missing = [];
  const get = <K extends keyof Kinds>(kind: K, name: string): Kinds[K] | undefined => {
    const stored = part(kind, name);
    if (!stored) missing.push({ kind, name });
    return stored;
  };
  const every = get("sheets", job.sheets)?.sheets;
  const lab = get("labs", job.lab);
  const pile = get("piles", job.pile);
  const editions = job.editions
    .map((name) => part("editions", name))
    .find((edition) => edition?.id === head.edition);
  if (!editions) for (const name of job.editions) get("editions", name);
  const said = pile && pilePhotos(pile, (name) => missing.push({ kind: "chunks", name }));
  if (!every || !lab || !said || !editions) return missing;
  const sheets = sheetsOf(every, editions.variant);
  const marks = head.marks.filter((_, n) => sheets.includes(every[n] as StoredSheet));
  const index = Math.max(
    0,
    sheets.findIndex((sheet) => sheet.id === id),
  );
  const sheet = sheets[index] as StoredSheet;
  const key = marks[index]?.key ?? "";
  const layout = get("layouts", sheet.layout);
  const places = get("places", sheet.layout);
  const name = editions.fillings[sheet.id];
  const filling = name ? get("fillings", name) : EMPTY;
  const measured = get("measured", key);
  if (!layout || !places || !filling || !measured) return missing;
  const photos = said.flatMap((entry) => {
    const known = facts(entry.id);
    const plain = { sample: false, already_worked: false, marked: null, stars: 0, aside: false };
    return known ? [{ ...known, ...plain, ...(entry as Partial<Photo>) }] : [];
  });
  const rows = places.openings.map((place, n) => ({ ...place, ...measured.rows[n] }) as Row);
  return {
    id: head.id, seq: head.seq, undo: head.undo, redo: head.redo, unseen: head.unseen, newer: head.newer, job, lab, sheets, marks, own: editions,
    at: index, sheet, layout, filling, key, rows, findings: measured.findings, words: measured.words ?? {}, echoes: places.echoes,
    frames: new Map(places.layers.map(({ layer, frame }) => [layer, frame])), folded: places.folded_mm, photos,
    photo: new Map(photos.map((photo) => [photo.id, photo])),
  }; // biome-ignore format: one a field
}

function withFields(layer: Layer, fields: Record<string, unknown>): Layer {
  const next = { ...layer } as Record<string, unknown>;
  for (const [path, value] of Object.entries(fields)) {
    const [name = "", inner] = path.split(".");
    next[name] = inner ? { ...((next[name] as object | null) ?? {}), [inner]: value } : value;
  }
  return next as unknown as Layer;
}

const without = <T>(entries: Record<string, T> | undefined, id: string): Record<string, T> => {
  const { [id]: _, ...rest } = entries ?? {};
  return rest;
};

/** The view with an edit already in it that is on its way, so that what was set stays set while the server answers. */
export function foreseen(view: View, sent: Edit): View {
  // What it leaves out is read as its default, wherever a layer or a step is read.
  const edit = sent as StoredEdit;
  if ("sheet" in edit && edit.sheet && edit.sheet !== view.sheet.id) return view;
  if ("edition" in edit && edit.edition && edit.edition !== view.own.id) return view;
  switch (edit.op) {
    case "set_fields": {
      const set = new Set(edit.layers);
      const there = placedBy(view, edit.layers, edit.fields);
      const layers = mapped(view.layout.layers, (layer) =>
        set.has(layer.id) ? withFields(layer, edit.fields) : layer,
      );
      return { ...there, layout: { ...view.layout, layers } };
    }
    case "add_layers":
      return addLayers(view, edit);
    case "remove_layers":
      return removeLayers(view, edit.layers);
    case "repeat":
      return repeatLayers(view, edit);
    case "restack":
      return restackLayer(view, edit);
    case "carry":
      return carried(view, edit);
    case "set_sheet":
      return { ...view, layout: withFields(view.layout as never, edit.fields) as never };
    case "mend_opening": {
      const rest = without(view.filling.tones, edit.opening);
      const was = view.filling.tones?.[edit.opening];
      const { recipe } = edit;
      const ownRecipe = recipe && {
        ...recipe,
        retouching: recipe.retouching ?? was?.retouching,
        upright: recipe.upright ?? was?.upright,
      };
      const tones = ownRecipe ? { ...rest, [edit.opening]: ownRecipe } : rest;
      return { ...view, filling: { ...view.filling, tones } };
    }
    case "mend_photo": {
      const rest = without(view.own.photo_tones, edit.photo);
      const was = view.own.photo_tones?.[edit.photo];
      const { recipe } = edit;
      const ownRecipe = recipe && {
        steps: recipe.steps,
        retouching: was?.retouching,
        upright: recipe.upright ?? was?.upright,
      };
      const photo_tones = ownRecipe ? { ...rest, [edit.photo]: ownRecipe } : rest;
      return { ...view, own: { ...view.own, photo_tones } };
    }
    case "retouch_photo":
      return { ...view, retouching: [...(view.retouching ?? []), edit] };
    case "retouch_opening": {
      const was = view.filling.tones?.[edit.opening];
      const touches = applyTouches(was?.retouching?.touches ?? [], edit);
      const tones = {
        ...view.filling.tones,
        [edit.opening]: { steps: null, ...was, retouching: { touches } },
      };
      return { ...view, filling: { ...view.filling, tones } };
    }
    case "write": {
      const rest = without(view.filling.texts, edit.layer);
      const texts = edit.text === null ? rest : { ...rest, [edit.layer]: edit.text };
      const plain = without(view.filling.runs, edit.layer);
      const runs = edit.text !== null && edit.runs?.length ? { ...plain, [edit.layer]: edit.runs } : plain;
      return { ...view, filling: { ...view.filling, texts, runs } };
    }
    case "settle_remark": {
      const remarks = (view.job.remarks ?? []).map((one) =>
        one.id === edit.remark ? { ...one, done: edit.done ?? true } : one,
      );
      return { ...view, job: { ...view.job, remarks } };
    }
    case "pin": {
      const [meant, pinned] = [new Set(edit.openings), edit.pinned ?? true];
      const rows = view.rows.map((row) => (meant.has(row.opening) ? { ...row, pinned } : row));
      return { ...view, rows };
    }
    case "worked":
      return saying(view, edit.photos, { already_worked: edit.worked ?? true });
    case "star":
      return saying(view, edit.photos, { stars: edit.stars });
    case "put_aside":
      return saying(view, edit.photos, { aside: edit.aside ?? true });
    case "mark":
      return saying(view, [edit.photo], { marked: edit.areas });
    case "choose_lab":
      return { ...view, lab: edit.lab as View["lab"] };
    case "enhance_all":
      return { ...view, job: { ...view.job, enhance: edit.on } };
    case "rename": {
      const { name, customer = "", order_number } = edit;
      const number = order_number ?? view.job.order_number;
      return { ...view, job: { ...view.job, name, customer, order_number: number } };
    }
    default:
      return view;
  }
}

/** Touches as they are once some are put to them, changed in their place, or taken away. */
export function applyTouches(
  touches: readonly Touch[],
  edit: { put?: readonly Touch[]; gone?: readonly string[] },
): Touch[] {
  const put = new Map((edit.put ?? []).map((touch) => [touch.id, touch]));
  const gone = new Set(edit.gone ?? []);
  const there = touches.filter(({ id }) => !gone.has(id)).map((touch) => put.get(touch.id) ?? touch);
  const known = new Set(there.map(({ id }) => id));
  return [...there, ...[...put.values()].filter(({ id }) => !known.has(id))];
}

/** The view in which some photos have something else said of them. */
function saying(view: View, ids: string[], fields: Partial<Photo>): View {
  const meant = new Set(ids);
  const photos = view.photos.map((photo) => (meant.has(photo.id) ? { ...photo, ...fields } : photo));
  return { ...view, photos, photo: new Map(photos.map((photo) => [photo.id, photo])) };
}

/** All layers of a layout, groups taken apart, hidden ones left out. */
export const leaves = (layout: Layout): Exclude<Layer, { kind: "group" }>[] =>
  layout.layers.flatMap((layer) =>
    layer.kind === "group"
      ? layer.visible === false
        ? []
        : leaves({ ...layout, layers: layer.layers ?? [] })
      : [layer],
  );

/** The opening as its sheet has it. */
export const openingOf = (view: View, id: string | undefined): Opening | undefined =>
  leaves(view.layout).find((layer): layer is Opening => layer.kind === "opening" && layer.id === id);

/** Echoes of an opening. */
export const echoesOf = (view: View, opening: string): Echo[] =>
  leaves(view.layout).filter((layer): layer is Echo => layer.kind === "echo" && layer.of === opening);
