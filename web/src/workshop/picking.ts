/** Pointing at an area of a picture: the server finds its shape, two edits lay it, one undo takes it back. */
import { answer, api, type PickedArea } from "../api/client";
import type { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { boundsOf, type Point } from "../geometry/placing";
import { t } from "../words";
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

/** Makes an opening of the area at a point, once all before it is stored; gives its id, or that of one which is there already. */
export function pickArea(
  view: View,
  at: Point,
  { edit, editLater }: Pick<ReturnType<typeof useChange>, "edit" | "editLater">,
  onPicked: (id: string) => void,
) {
  const id = freshId("opening");
  const gesture = `area-${id}`;
  editLater(
    async (now) => {
      const layer = pictureAt(now, at);
      if (layer?.kind !== "overlay")
        throw new Error(t("There is no picture here. Point at one that was brought in."));
      const found = await answer<PickedArea>(
        api.POST("/api/jobs/{job}/sheets/{sheet}/areas", {
          params: { path: { job: view.id, sheet: view.sheet.id } },
          body: { layer: layer.id, at_mm: [at[0], at[1]], tolerance: 10 },
        }),
      );
      onPicked(found.there || id);
      if (found.there) return undefined;
      if (found.asset !== layer.asset) {
        const fields = { asset: found.asset, content_locked: !!layer.content_locked };
        edit({ op: "set_fields", layers: [layer.id], fields, expect: {} }, { gesture });
      }
      const below = layer.guide ? null : layer.id;
      return { op: "add_layers", layers: [{ ...found.opening, id }], below };
    },
    { gesture },
  );
}
