import type { JobState, KeepArea, Row } from "../api/client";
import { held } from "./fitting";
import { apply, type Matrix, openingFromPhoto, type Point, path } from "./placing";
import css from "./sheet.module.css";

export const KEEP_NAMES = { face: "face, found", subject: "subject, supposed", hand: "marked by hand" };

/** Keep areas of a photo: those marked by hand, or else those found. */
export const keepAreas = (photo: {
  marked?: KeepArea[] | null;
  found?: { keep?: KeepArea[] } | null;
}): KeepArea[] => photo.marked ?? photo.found?.keep ?? [];

/** Points along the ellipse of a keep area, photo px. */
export function ellipseOf(area: KeepArea, photo: { width: number; height: number }, steps = 40): Point[] {
  return Array.from({ length: steps }, (_, at) => {
    const angle = (2 * Math.PI * at) / steps;
    return [
      (area.left + area.width * (0.5 + Math.cos(angle) / 2)) * photo.width,
      (area.top + area.height * (0.5 + Math.sin(angle) / 2)) * photo.height,
    ];
  });
}

/** What must stay visible, drawn over each opening. Lines are double, so that they show on any picture. */
export function KeepAreas({
  state,
  rows,
  screenFromPage,
}: {
  state: JobState;
  rows: Row[];
  screenFromPage: Matrix;
}) {
  return (
    <g className={css.keeps} data-testid="keep-areas">
      {rows.map((row) => {
        const now = held(state, row.opening);
        if (!now) return null;
        const onto = openingFromPhoto(now.outline, now.photo, now.lying);
        const toScreen = (point: Point) => apply(screenFromPage, now.lay.to(apply(onto, point)));
        return keepAreas(now.photo).map((area) => {
          const d = path(ellipseOf(area, now.photo).map(toScreen));
          return (
            <g key={`${row.opening} ${area.left} ${area.top}`} data-kind={area.kind}>
              <path d={d} className={css.keepLight} />
              <path d={d} className={css.keep} />
            </g>
          );
        });
      })}
    </g>
  );
}
