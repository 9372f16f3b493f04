/** Pointing at an area of a picture: the server finds its shape, two edits lay it, one undo takes it back. */
import { answer, api, type PickedArea } from "../api/client";
import { jobStore, type Said } from "../editing/jobs";
import type { Layer } from "../editing/relaid";
import { type Outline, outlineOf } from "../editing/stacking";
import type { View } from "../editing/view";
import { boundsOf, type Point } from "../geometry/placing";
import { underWay } from "../ui/underWay";
import { freshId, stacked } from "./layers";

/** The uppermost picture that is seen at a point of the sheet. */
const pictureAt = (view: View, [x, y]: Point) =>
  stacked(view.layout.layers)
    .map(({ layer }) => layer)
    .find((layer) => {
      const frame = view.frames.get(layer.id);
      if (layer.kind !== "overlay" || layer.visible === false || !frame) return false;
      const box = boundsOf(frame);
      return box.left <= x && x <= box.right && box.top <= y && y <= box.bottom;
    });

const SAME_MM = 1;

/** Where an opening of an area lies, and how large it is, mm. */
function areaOf(layer: Layer): number[] | undefined {
  if (layer.kind !== "opening" || layer.surface.kind !== "flat") return undefined;
  const outline = outlineOf(layer.outline as Outline);
  if (!outline) return undefined;
  const { left, top, right, bottom } = boundsOf(outline);
  return [...layer.surface.centre, right - left, bottom - top];
}

const isSame = (one: number[] | undefined, other: number[] | undefined) =>
  !!one && !!other && one.every((value, n) => Math.abs(value - (other[n] ?? 0)) < SAME_MM);

/** Makes an opening of the area at a point; its id, or that of one which is there already; nothing where there is none. */
export async function pickArea(
  view: View,
  at: Point,
  edit: (said: Said, more?: { gesture?: string }) => void,
): Promise<string | undefined> {
  return underWay(async () => {
    const layer = pictureAt(view, at);
    if (layer?.kind !== "overlay")
      throw new Error("There is no picture here. Point at one that was brought in.");
    const found = await answer<PickedArea>(
      api.POST("/api/jobs/{job}/sheets/{sheet}/areas", {
        params: { path: { job: view.id, sheet: view.sheet.id } },
        body: { layer: layer.id, at_mm: [at[0], at[1]], tolerance: 10 },
      }),
    );
    const area = areaOf(found.opening as unknown as Layer);
    const there = jobStore(view.id)
      .viewOf(view.sheet.id)
      ?.layout.layers.find((one) => isSame(areaOf(one), area));
    if (there) return there.id;
    const id = freshId("opening");
    const gesture = `area-${id}`;
    const below = layer.guide ? null : layer.id;
    edit({ op: "add_layers", layers: [{ ...found.opening, id }], below } as unknown as Said, { gesture });
    if (found.asset !== layer.asset)
      edit(
        {
          op: "set_fields",
          layers: [layer.id],
          fields: { asset: found.asset, content_locked: !!layer.content_locked },
          expect: {},
        } as Said,
        { gesture },
      );
    return id;
  });
}
