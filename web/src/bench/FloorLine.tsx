import { useState } from "react";
import type { JobState, Page } from "../api/client";
import { useChange } from "../api/queries";
import { altering } from "./layers";
import { apply, inverse, type Matrix, type Point } from "./placing";
import css from "./sheet.module.css";
import { useBench } from "./store";

/** Takes two clicks, wherever they are: the line that a reflection is mirrored at. */
export function FloorLine({
  state,
  page,
  echo: id,
  screenFromPage,
}: {
  state: JobState;
  page: Page;
  echo: string;
  screenFromPage: Matrix;
}) {
  const { edit } = useChange(state.id);
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
    const echo = page.layers.find((layer) => layer.id === id);
    if (echo?.kind === "echo")
      edit.mutate({
        edit: altering(echo, (now) => ({ surface: null, floor: { ...now.floor, line } })),
      });
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
          const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
          click([event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)]);
        }}
      />
    </>
  );
}
