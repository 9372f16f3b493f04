/** A small job as the server tells of it, for tests. */
import type { JobState } from "../api/client";

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
  locked: false,
  opacity: 1,
  blend: "normal",
  outline: { kind: "rectangle", width_mm: 80, height_mm: 60, radius_mm: 0 },
  surface: { kind: "flat", centre: [50, 40], turn_deg: 0, stretch_x: 1, stretch_y: 1, skew_deg: 0 },
  ...more,
});
const row = (opening: string, number: number, reading: number, page: string, photo = "") => ({
  opening,
  number,
  reading,
  page,
  photo,
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
  sha256: id.repeat(4),
});

/** Two pages: openings a and b on the left one (b is read first), c on the right one with an echo; b is empty. */
export const jobState = (): JobState =>
  ({
    id: "job",
    revision: 7,
    undo: "",
    redo: "",
    unseen: 0,
    job: {
      name: "Kites",
      photos: [photo("p1", 6000, 4000), photo("p2", 4000, 6000)],
      pages: [
        { id: "left", name: "Left", width_mm: 200, height_mm: 100, layers: [opening("a"), opening("b")] },
        {
          id: "right",
          name: "Right",
          width_mm: 200,
          height_mm: 100,
          layers: [
            { kind: "echo", id: "c-echo-1", of: "c", how: "reflection", darken: 0, floor: { gap_mm: 0, slant_deg: 0, length: 1 } },
            opening("c", { border: { width_mm: 3, colour: "#ffffff", side: "inside" } }),
          ],
        },
      ],
      edition: {
        placements: {
          a: { photo: "p1", fit: "cover", centre: [0.5, 0.5], zoom: 1, turn_deg: 0, mirror: false, ratio: null },
          c: { photo: "p2", fit: "cover", centre: [0.5, 0.5], zoom: 2, turn_deg: 0, mirror: false, ratio: null },
        },
        tones: { c: { steps: [{ kind: "exposure", on: true, stops: 1 }] } },
        photo_tones: {},
        pins: [],
        texts: {},
        spans: {},
      },
    },
    ledger: [row("a", 1, 2, "left", "p1"), row("b", 2, 1, "left"), row("c", 3, 3, "right", "p2")],
    findings: [
      { rule: "empty", severity: "stop", layer: "b", page: "left", sentence: "Opening 2 is empty." },
      { rule: "ppi", severity: "look", layer: "c", page: "right", sentence: "Opening 3 prints at 200 ppi." },
    ],
    echoes: [],
  }) as unknown as JobState; // biome-ignore format: one thing a line
