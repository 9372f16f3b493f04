import { useState } from "react";
import { type JobState, proxy } from "../api/client";
import { held } from "./fitting";
import {
  apply,
  cssMatrix,
  type Matrix,
  multiply,
  openingFromPhoto,
  type Point,
  path,
  shownOf,
} from "./placing";
import css from "./sheet.module.css";
import { useBench } from "./store";

/** While a photo is pulled the browser draws it: clipped by the outline, with what lies outside shown faintly. */
export function DraftPhoto({ state, screenFromPage }: { state: JobState; screenFromPage: Matrix }) {
  const draft = useBench((bench) => bench.draft);
  const [natural, setNatural] = useState<{ src: string; width: number; height: number }>();
  const now = draft && held(state, draft.opening, draft);
  if (!now) return null;
  const source = proxy(now.photo);
  const screenFromOpening = multiply(screenFromPage, now.matrix);
  // A photo that runs on through a span is seen in all of it.
  const shapes = now.row.span
    ? (now.row.span_outline as unknown as Point[][])
    : [shownOf(now.row.outline as unknown as Point[], now.lying)];
  const outline = shapes.map((shape) => path(shape.map((point) => apply(screenFromOpening, point)))).join("");
  const known = natural?.src === source ? natural : undefined;
  const px = known ? now.photo.width / known.width : 1;
  const screenFromProxy = multiply(
    multiply(screenFromOpening, openingFromPhoto(now.outline, now.photo, now.lying)),
    [px, 0, 0, 0, known ? now.photo.height / known.height : 1, 0, 0, 0, 1],
  );
  const image = (className: string | undefined) => (
    <img
      className={className}
      src={source}
      alt=""
      draggable={false}
      style={{ transform: cssMatrix(screenFromProxy), visibility: known ? undefined : "hidden" }}
      onLoad={(event) =>
        setNatural({
          src: source,
          width: event.currentTarget.naturalWidth,
          height: event.currentTarget.naturalHeight,
        })
      }
    />
  );
  return (
    <>
      {draft.revision === undefined && <div className={css.ghost}>{image(css.warped)}</div>}
      <div className={css.clip} style={{ clipPath: `path("${outline}")` }} data-testid="draft">
        {image(css.warped)}
      </div>
    </>
  );
}
