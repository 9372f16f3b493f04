import type { Row } from "../../api/client";
import { held } from "../../editing/fitting";
import type { View } from "../../editing/view";
import { ellipseOf } from "../../geometry/areas";
import { apply, type Matrix, openingFromPhoto, type Point, path } from "../../geometry/placing";
import css from "../../stage/stage.module.css";

/** What must stay visible, drawn over each opening. Lines are double, so that they show on any picture. */
export function KeepAreas({
  state,
  rows,
  screenFromPage,
}: {
  state: View;
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
        return now.keeps.map(({ seen: area }) => {
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
