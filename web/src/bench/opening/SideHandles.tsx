/** A flat opening is made wider or higher by its sides; its photo stays fitted. With Shift both sides move alike. */
import { type PointerEvent, useState } from "react";
import type { Row } from "../../api/client";
import { useChange } from "../../editing/changes";
import { openingOf, type View } from "../../editing/view";
import { apply, inverse, type Matrix, multiply, type Point, path } from "../../geometry/placing";
import { pointerIn } from "../../stage/pointer";
import css from "../../stage/stage.module.css";
import { follow } from "../../ui/follow";
import { t } from "../../words";

const LEAST_MM = 3;
const SIDES: readonly [string, Point][] = [
  ["left", [-1, 0]],
  ["right", [1, 0]],
  ["upper", [0, -1]],
  ["lower", [0, 1]],
];
interface Size {
  width: number;
  height: number;
  /** The new middle, in the opening's own plane as it lies now. */
  middle: Point;
}

export function SideHandles({
  state,
  row,
  screenFromPage,
}: {
  state: View;
  row: Row;
  screenFromPage: Matrix;
}) {
  const { edit } = useChange(state);
  const [pulled, setPulled] = useState<Size>();
  const layer = openingOf(state, row.opening);
  if (layer?.surface.kind !== "flat" || layer.outline.kind === "path" || layer.place_locked) return null;
  const onto = multiply(screenFromPage, row.page_from_opening);
  const { width_mm: width, height_mm: height } = layer.outline;
  const pointOf = (size: Size, [x, y]: Point): Point =>
    apply(onto, [size.middle[0] + (x * size.width) / 2, size.middle[1] + (y * size.height) / 2]);
  const now: Size = pulled ?? { width, height, middle: [0, 0] };
  const pull = (event: PointerEvent<SVGElement>, which: Point) => {
    event.stopPropagation();
    const drawing = event.currentTarget.ownerSVGElement;
    let last: Size | undefined;
    const move = (next: globalThis.PointerEvent) => {
      const [x, y] = apply(inverse(onto), pointerIn(drawing, next));
      const out = which[0] ? x * which[0] : y * which[1];
      const was = which[0] ? width : height;
      const size = Math.max(LEAST_MM, next.shiftKey ? 2 * out : was / 2 + out);
      const by = next.shiftKey ? 0 : (size - was) / 2;
      last = {
        width: which[0] ? size : width,
        height: which[0] ? height : size,
        middle: [which[0] * by, which[1] * by],
      };
      setPulled(last);
    };
    const keep = () => {
      setPulled(undefined);
      if (!last) return;
      const [x, y] = apply(row.page_from_opening, last.middle);
      const round = (value: number) => Math.round(value * 100) / 100;
      edit({
        op: "set_fields",
        layers: [row.opening],
        fields: {
          "outline.width_mm": round(last.width),
          "outline.height_mm": round(last.height),
          "surface.centre": [round(x), round(y)],
        },
      });
    };
    follow(event, move, keep, () => setPulled(undefined));
  };
  return (
    <g className={css.handles}>
      {pulled && (
        <path
          className={css.mesh}
          pointerEvents="none"
          d={path([
            pointOf(now, [-1, -1]),
            pointOf(now, [1, -1]),
            pointOf(now, [1, 1]),
            pointOf(now, [-1, 1]),
          ])}
        />
      )}
      {SIDES.map(([name, which]) => {
        const [x, y] = pointOf(now, which);
        return (
          <rect
            key={name}
            data-testid={`${name}-side`}
            className={css.side}
            x={x - 5}
            y={y - 5}
            width={10}
            height={10}
            style={{ cursor: which[0] ? "ew-resize" : "ns-resize" }}
            onPointerDown={(event) => pull(event, which)}
          >
            <title>{t("Pull the {name} side; with Shift both", { name })}</title>
          </rect>
        );
      })}
    </g>
  );
}
