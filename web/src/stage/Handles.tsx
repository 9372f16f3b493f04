import type { PointerEvent } from "react";
import type { Row } from "../api/client";
import type { Drawn } from "../geometry/lines";
import { apply, boundsOf, type Matrix, multiply, type Point } from "../geometry/placing";
import { fixed } from "../ui/format";
import { t } from "../words";
import css from "./stage.module.css";

/** What can be pulled at the selected opening: turn above it, zoom at its lower right corner, carry it away at its upper left. */
export function Handles({
  row,
  turn,
  screenFromPage,
  onTurn,
  onZoom,
  onCarry,
}: {
  row: Row;
  turn: number;
  screenFromPage: Matrix;
  onTurn: (event: PointerEvent) => void;
  onZoom: (event: PointerEvent) => void;
  onCarry: (event: PointerEvent) => void;
}) {
  const outline = row.outline;
  const onto = multiply(screenFromPage, row.page_from_opening);
  const xs = outline.map((p) => p[0]);
  const ys = outline.map((p) => p[1]);
  const corner = apply(onto, [Math.max(...xs), Math.max(...ys)]);
  const topMiddle = apply(onto, [0, Math.min(...ys)]);
  const middle = apply(onto, [0, 0]);
  const reach = Math.hypot(topMiddle[0] - middle[0], topMiddle[1] - middle[1]) || 1;
  const knob: Point = [
    topMiddle[0] + ((topMiddle[0] - middle[0]) / reach) * 20,
    topMiddle[1] + ((topMiddle[1] - middle[1]) / reach) * 20,
  ];
  // Inside the upper left corner, so that the photo's middle stays free to be pulled.
  const upper = apply(onto, [Math.min(...xs), Math.min(...ys)]);
  const wide = Math.hypot(corner[0] - upper[0], corner[1] - upper[1]);
  const hold: Point = [
    upper[0] + ((middle[0] - upper[0]) / (wide / 2 || 1)) * 24,
    upper[1] + ((middle[1] - upper[1]) / (wide / 2 || 1)) * 24,
  ];
  return (
    <g className={css.handles}>
      <path d={`M${topMiddle}L${knob}`} className={css.stem} />
      <circle
        cx={knob[0]}
        cy={knob[1]}
        r={6}
        className={css.turn}
        onPointerDown={onTurn}
        data-testid="turn-handle"
      >
        <title>{t("Pull to turn the photo (now {turn}°)", { turn })}</title>
      </circle>
      <rect
        x={corner[0] - 6}
        y={corner[1] - 6}
        width={12}
        height={12}
        className={css.zoom}
        onPointerDown={onZoom}
        data-testid="zoom-handle"
      >
        <title>{t("Pull to zoom the photo")}</title>
      </rect>
      {wide > 70 && (
        <g
          className={css.carry}
          transform={`translate(${hold[0]} ${hold[1]})`}
          onPointerDown={onCarry}
          data-testid="carry-handle"
        >
          <title>{t("Pull the photo to another opening, or down to the pile")}</title>
          <circle r={12} />
          <path d="M-6 -3h11m-3 -3l3 3l-3 3M6 4h-11m3 -3l-3 3l3 3" />
        </g>
      )}
    </g>
  );
}

/** How a photo lies while it is pulled. */
export function Readout({ at, zoom, turn }: { at: Point; zoom: number; turn: number }) {
  return (
    <g className={css.readout} transform={`translate(${at[0]} ${at[1]})`} pointerEvents="none">
      <rect x={-52} y={-12} width={104} height={24} rx={2} />
      <text textAnchor="middle" y={4}>
        {`${fixed(zoom, 2)} × · ${fixed(turn, 1)}°`}
      </text>
    </g>
  );
}

/** Where what is pulled was drawn to: lines across the opening. */
export function Lines({ row, lines, screenFromPage }: { row: Row; lines: Drawn; screenFromPage: Matrix }) {
  const box = boundsOf(row.outline);
  const onto = multiply(screenFromPage, row.page_from_opening);
  const ends: [Point, Point][] = [];
  if (lines.x !== undefined)
    ends.push([
      [lines.x, box.top],
      [lines.x, box.bottom],
    ]);
  if (lines.y !== undefined)
    ends.push([
      [box.left, lines.y],
      [box.right, lines.y],
    ]);
  return ends.map(([from, to]) => {
    const d = `M${apply(onto, from)}L${apply(onto, to)}`;
    return (
      <g key={d} pointerEvents="none">
        <path d={d} className={css.meshLight} />
        <path d={d} className={css.mesh} />
      </g>
    );
  });
}
