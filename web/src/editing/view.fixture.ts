/** A small job as the server tells of it, for tests. */
import type { Photo } from "../api/client";
import type { View } from "./view";

const outline = [
  [-40, -30],
  [40, -30],
  [40, 30],
  [-40, 30],
];
const opening = (id: string, more: object = {}) => ({
  kind: "opening",
  id,
  name: id,
  visible: true,
  place_locked: false,
  content_locked: false,
  opacity: 1,
  blend: "normal",
  outline: { kind: "rectangle", width_mm: 80, height_mm: 60, radius_mm: 0 },
  surface: { kind: "flat", centre: [50, 40], turn_deg: 0, stretch_x: 1, stretch_y: 1, skew_deg: 0 },
  ...more,
});
const row = (opening: string, number: number, reading: number, photo = "", zoom = 1) => ({
  opening,
  number,
  reading,
  photo,
  placement: photo
    ? { photo, fit: "cover", centre: [0.5, 0.5], zoom, turn_deg: 0, mirror: false, ratio: null }
    : null,
  name: opening,
  outline,
  shape: outline.map(([x = 0, y = 0]) => [x + 50, y + 40]),
  page_from_opening: [1, 0, 50, 0, 1, 40, 0, 0, 1],
  width_mm: 80,
  height_mm: 60,
  span: "",
  distortion: 1,
  status: "order",
});

export const photo = (id: string, width: number, height: number, name = `${id}.jpg`) => ({
  id,
  name,
  width,
  height,
  checksum: id.repeat(4),
});

const layers = {
  left: [opening("a"), opening("b")],
  right: [
    { kind: "echo", id: "c-echo-1", of: "c", how: "reflection", darken: 0, floor: { gap_mm: 0, slant_deg: 0, length: 1 } },
    { kind: "group", id: "g", visible: true, layers: [opening("c", { border: { width_mm: 3, colour: "#ffffff", side: "inside" } })] },
  ],
}; // biome-ignore format: one thing a line
const rows = {
  left: [row("a", 1, 2, "p1"), row("b", 2, 1)],
  right: [row("c", 1, 1, "p2", 2)],
};
const findings = {
  left: [{ rule: "empty", severity: "stop", layer: "b", sheet: "left", sentence: "Opening 2 is empty." }],
  right: [
    { rule: "ppi", severity: "look", layer: "c", sheet: "right", sentence: "Opening 1 prints at 200 ppi." },
  ],
};

/** A job of two sheets: openings a and b on the left one (b is read first, and empty), c on the right one with an echo. */
export function viewOf(sheet: "left" | "right"): View {
  const photos = [photo("p1", 6000, 4000), photo("p2", 4000, 6000)] as unknown as Photo[];
  const index = sheet === "left" ? 0 : 1;
  const sheets = [
    { id: "left", name: "Left", role: "page", layout: "l1" },
    { id: "right", name: "Right", role: "page", layout: "l2" },
  ];
  return {
    id: "job", seq: 7, undo: "", redo: "", unseen: 0, job: { name: "Kites", editions: ["e1"] },
    lab: { name: "Lab", ppi_target: 300, ppi_least: 200 }, sheets, at: index, sheet: sheets[index], key: `key-${sheet}`,
    marks: [{ key: "key-left", ratio: 2, counts: [2, 1, 1, 0] }, { key: "key-right", ratio: 2, counts: [1, 1, 0, 1] }],
    own: { id: "first", name: "First", photo_tones: {}, fillings: {} },
    layout: { width_mm: 200, height_mm: 100, bleed_mm: 3, safe_mm: 5, lines: [], layers: layers[sheet] },
    filling: {
      placements: {}, texts: {}, pins: [], spans: {},
      tones: sheet === "right" ? { c: { steps: [{ kind: "exposure", on: true, stops: 1 }] } } : {},
    },
    rows: rows[sheet], findings: findings[sheet], words: {}, echoes: [], newer: 0, frames: new Map(), photos,
    photo: new Map(photos.map((entry) => [entry.id, entry])),
  } as unknown as View; // biome-ignore format: one thing a line
}
