import { useState } from "react";
import { useChange } from "../../editing/changes";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { apply, inverse, type Matrix, type Point } from "../../geometry/placing";
import { pointerIn } from "../../stage/pointer";
import css from "../../stage/stage.module.css";

/** Takes two clicks, wherever they are: the line that a reflection is mirrored at. */
export function FloorLine({
  state,
  echo: id,
  screenFromPage,
}: {
  state: View;
  echo: string;
  screenFromPage: Matrix;
}) {
  const { edit } = useChange(state);
  const set = useBench((bench) => bench.set);
  const [from, setFrom] = useState<Point>();
  const click = (point: Point) => {
    if (!from) {
      setFrom(point);
      return;
    }
    const round = ([x, y]: Point): [number, number] => [Math.round(x * 100) / 100, Math.round(y * 100) / 100];
    const back = inverse(screenFromPage);
    const line: [[number, number], [number, number]] = [round(apply(back, from)), round(apply(back, point))];
    edit({ op: "set_fields", layers: [id], fields: { surface: null, "floor.line": line }, expect: {} });
    set({ floorOf: undefined });
  };
  return (
    <>
      {from && <circle className={css.knob} cx={from[0]} cy={from[1]} r={4} />}
      <rect
        className={css.floor}
        x="-200%"
        y="-200%"
        width="500%"
        height="500%"
        onPointerDown={(event) => {
          event.stopPropagation();
          click(pointerIn(event.currentTarget.ownerSVGElement, event));
        }}
      />
    </>
  );
}
