import { type PointerEvent, useRef, useState } from "react";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { moved } from "../geometry/motions";
import { apply, boundsOf, inverse, type Matrix, type Point, path } from "../geometry/placing";
import { CutLines, type Seen } from "../stage/Stage";
import stage from "../stage/stage.module.css";
import { underWay } from "../ui/underWay";
import { useUnit } from "../ui/units";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { type Box, cornersOf, drawnBy, found, type Layer, named, outermost, stacked } from "./layers";
import { columnsOf, type Gap } from "./lines";
import { dropped, PIECE } from "./OrnamentShelf";
import { HANDLES, heldOf, pointOf } from "./pulling";
import { useTable } from "./table";
import { pullMatrix, type useHands } from "./useHands";
import css from "./workshop.module.css";

const CURSORS = ["ns-resize", "nesw-resize", "ew-resize", "nwse-resize"];

interface Props {
  state: View;
  seen: Seen;
  hands: ReturnType<typeof useHands>;
  svg: React.RefObject<SVGSVGElement | null>;
}

/** What lies over the sheet in the workshop: every layer to be picked, what is selected with its handles, lines and guides. */
export function Drawing({ state, seen, hands, svg }: Props) {
  const { screenFromPage, size } = seen;
  const { layout, frames } = state;
  const { selected, pointed, tool, guides, set } = usePicked(
    useTable,
    "selected",
    "pointed",
    "tool",
    "guides",
    "set",
  );
  const { pull, help } = usePicked(useTable, "pull", "help");
  const by = pullMatrix(pull, state, selected);
  const numbers = new Map(state.rows.map((row) => [row.opening, row.number]));
  const shapes = new Map(state.rows.map((row) => [row.opening, row.shape]));
  const onScreen = (points: readonly Point[]) => path(points.map((point) => apply(screenFromPage, point)));
  const chosen = new Set(
    selected.flatMap((id) => drawnBy(found(layout.layers, id) ?? ({ id, kind: "note" } as Layer))),
  );
  const held =
    pull?.kind === "move" || !selected.length ? undefined : heldOf(layout.layers, frames, selected);
  const coming = new Set(state.coming);
  const lies = [...stacked(layout.layers)].reverse().map(({ layer }) => layer);
  const over = pointed && cornersOf(layout.layers, frames, [pointed]);
  return (
    <svg
      ref={svg}
      className={`${stage.overlay} ${css.drawing}`}
      width={size.width}
      height={size.height}
      data-tool={tool}
      data-pulling={pull ? "" : undefined}
      onPointerDown={(event) => hands.down(event)}
      onPointerMove={hands.move}
      onPointerUp={hands.up}
      onPointerCancel={() => hands.cancel()}
      onDoubleClick={() => {
        hands.cancel(true);
        // The pointer was taken by the sheet with the first click: the layer itself may hear nothing.
        const only = selected.length === 1 ? found(layout.layers, selected[0] ?? "") : undefined;
        if (tool === "select" && only?.kind === "text" && !only.content_locked) set({ writing: only.id });
      }}
      onDragOver={(event) => event.dataTransfer.types.includes(PIECE) && event.preventDefault()}
      onDrop={(event) => {
        const data = event.dataTransfer.getData(PIECE);
        const box = svg.current?.getBoundingClientRect();
        if (!data || !box) return;
        event.preventDefault();
        const point = apply(inverse(screenFromPage), [event.clientX - box.left, event.clientY - box.top]);
        underWay(async () => hands.add(await dropped(state, data, point)));
      }}
    >
      <title>{state.sheet.name}</title>
      {guides && <Net state={state} seen={seen} />}
      {guides && <CutLines sheet={layout} seen={seen} />}
      {lies.map((layer) => {
        const frame = frames.get(layer.id);
        // A picture over all would hide the rest from the pointer: it is picked in the list.
        const over = layer.kind === "overlay" && !chosen.has(layer.id);
        if (!frame || layer.visible === false || over) return null;
        return (
          <path
            key={layer.id}
            d={onScreen(shapes.get(layer.id) ?? frame)}
            className={css.layer}
            role="button"
            tabIndex={0}
            aria-label={named(layer, numbers.get(layer.id))}
            aria-pressed={chosen.has(layer.id)}
            data-layer={layer.id}
            data-chosen={chosen.has(layer.id) || undefined}
            data-kind={layer.kind}
            data-coming={coming.has(layer.id) || undefined}
            style={coming.has(layer.id) && layer.kind === "fill" ? { fill: layer.colour } : undefined}
            onPointerDown={(event) => hands.down(event, layer)}
            onDoubleClick={() =>
              outermost(layout.layers, layer.id) !== layer.id && set({ selected: [layer.id] })
            }
            onFocus={(event) =>
              event.currentTarget.matches(":focus-visible") && set({ selected: [layer.id] })
            }
          >
            <title>{named(layer, numbers.get(layer.id))}</title>
          </path>
        );
      })}
      {over && over.length > 0 && (
        <Double d={onScreen(boxPoints(boundsOf(over)))} className={css.pointed ?? ""} />
      )}
      {by &&
        [...chosen].map((id) => {
          const shape = shapes.get(id) ?? frames.get(id);
          return shape && <Double key={id} d={onScreen(moved(shape, by))} className={css.moving ?? ""} />;
        })}
      {held && !by && tool === "select" && (
        <g className={stage.handles}>
          <Double
            d={onScreen([
              pointOf(held, [-1, -1]),
              pointOf(held, [1, -1]),
              pointOf(held, [1, 1]),
              pointOf(held, [-1, 1]),
            ])}
            className={css.held ?? ""}
          />
          <Turn
            at={apply(screenFromPage, pointOf(held, [0, -1]))}
            up={held.down}
            onPull={(event) => hands.take(event, "turn")}
          />
          {HANDLES.map((handle) => {
            const [x, y] = apply(screenFromPage, pointOf(held, handle));
            const way = Math.atan2(
              handle[0] * held.across[1] + handle[1] * held.down[1],
              handle[0] * held.across[0] + handle[1] * held.down[0],
            );
            const eighth = Math.round((way + Math.PI / 2) / (Math.PI / 4));
            return (
              <rect
                key={handle.join()}
                x={x - 5}
                y={y - 5}
                width={10}
                height={10}
                className={css.handle}
                style={{ cursor: CURSORS[((eighth % 4) + 4) % 4] }}
                data-testid={`handle ${handle.join()}`}
                onPointerDown={(event) => hands.take(event, handle)}
              >
                <title>{t("Pull to make it larger or smaller (Shift keeps its proportions)")}</title>
              </rect>
            );
          })}
        </g>
      )}
      {pull?.kind === "draw" && <Double d={onScreen(boxPoints(pull.box))} className={css.moving ?? ""} />}
      {pull?.kind === "mark" && <Double d={onScreen(boxPoints(pull.box))} className={css.mark ?? ""} />}
      {pull?.kind === "trace" && (
        <Double d={onScreen(pull.points).replace(/Z$/, "")} className={css.moving ?? ""} />
      )}
      {pull?.kind === "cut" && (
        <Double d={onScreen([...pull.points, pull.to]).replace(/Z$/, "")} className={css.moving ?? ""} />
      )}
      {help?.lines && <Drawns lines={help.lines} seen={seen} />}
      {help?.gaps.map((gap) => (
        <GapLine key={`${gap.axis}${gap.from}`} gap={gap} screenFromPage={screenFromPage} />
      ))}
      {guides && <Guides state={state} seen={seen} svg={svg} />}
      <Says state={state} seen={seen} />
    </svg>
  );
}

const boxPoints = ({ left, top, right, bottom }: Box): Point[] => [
  [left, top],
  [right, top],
  [right, bottom],
  [left, bottom],
];

/** A line that shows on any picture: dark on light. */
function Double({ d, className }: { d: string; className: string }) {
  return (
    <g pointerEvents="none">
      <path d={d} className={css.light} />
      <path d={d} className={className} />
    </g>
  );
}

function Turn({ at, up, onPull }: { at: Point; up: Point; onPull: (event: PointerEvent) => void }) {
  const knob: Point = [at[0] - up[0] * 22, at[1] - up[1] * 22];
  return (
    <>
      <path d={`M${at}L${knob}`} className={stage.stem} />
      <circle
        cx={knob[0]}
        cy={knob[1]}
        r={6}
        className={stage.turn}
        onPointerDown={onPull}
        data-testid="turn handle"
      >
        <title>{t("Pull to turn it (Shift: by 15°)")}</title>
      </circle>
    </>
  );
}

/** Lines right across the page. */
function Drawns({ lines, seen }: { lines: { x?: number; y?: number }; seen: Seen }) {
  const [x, y] = apply(seen.screenFromPage, [lines.x ?? 0, lines.y ?? 0]);
  return (
    <>
      {lines.x !== undefined && <Double d={`M${x} 0V${seen.size.height}`} className={css.drawnTo ?? ""} />}
      {lines.y !== undefined && <Double d={`M0 ${y}H${seen.size.width}`} className={css.drawnTo ?? ""} />}
    </>
  );
}

function GapLine({ gap, screenFromPage }: { gap: Gap; screenFromPage: Matrix }) {
  const { length } = useUnit();
  const ends: [Point, Point] =
    gap.axis === "x"
      ? [
          [gap.from, gap.at],
          [gap.to, gap.at],
        ]
      : [
          [gap.at, gap.from],
          [gap.at, gap.to],
        ];
  const [a, b] = ends.map((point) => apply(screenFromPage, point)) as [Point, Point];
  return (
    <>
      <Double d={`M${a}L${b}`} className={css.drawnTo ?? ""} />
      <Label at={[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2 - 14]} text={length(gap.to - gap.from)} />
    </>
  );
}

function Label({ at, text }: { at: Point; text: string }) {
  const wide = 12 + text.length * 6.6;
  return (
    <g className={stage.readout} transform={`translate(${at[0]} ${at[1]})`} pointerEvents="none">
      <rect x={-wide / 2} y={-10} width={wide} height={20} rx={2} />
      <text textAnchor="middle" y={4}>
        {text}
      </text>
    </g>
  );
}

/** Columns and rows to lay things on. */
function Net({ state, seen }: { state: View; seen: Seen }) {
  const { layout } = state;
  const endsOf = (axis: "x" | "y", mm: number) =>
    apply(seen.screenFromPage, axis === "x" ? [mm, 0] : [0, mm])[axis === "x" ? 0 : 1];
  const far = apply(seen.screenFromPage, [layout.width_mm, layout.height_mm]);
  const near = apply(seen.screenFromPage, [0, 0]);
  return (
    <g className={css.net}>
      {columnsOf(layout).map(([axis, from, to]) =>
        axis === "x" ? (
          <rect
            key={`x${from}`}
            x={endsOf("x", from)}
            width={endsOf("x", to) - endsOf("x", from)}
            y={near[1]}
            height={far[1] - near[1]}
          />
        ) : (
          <rect
            key={`y${from}`}
            y={endsOf("y", from)}
            height={endsOf("y", to) - endsOf("y", from)}
            x={near[0]}
            width={far[0] - near[0]}
          />
        ),
      )}
    </g>
  );
}

/** Guides: pulled along, or off the sheet to be rid of. */
function Guides({ state, seen, svg }: Pick<Props, "state" | "seen" | "svg">) {
  const { edit } = useChange(state);
  const [pulled, setPulled] = useState<{ index: number; at: number }>();
  const { layout } = state;
  const list = layout.guides ?? [];
  const ends = useRef(false);
  const mmAt = (event: PointerEvent, axis: "x" | "y") => {
    const box = svg.current?.getBoundingClientRect();
    const point = apply(inverse(seen.screenFromPage), [
      event.clientX - (box?.left ?? 0),
      event.clientY - (box?.top ?? 0),
    ]);
    return Math.round(point[axis === "x" ? 0 : 1] * 10) / 10;
  };
  const keep = (index: number, mm: number) => {
    const far = list[index]?.axis === "x" ? layout.width_mm : layout.height_mm;
    const off = mm < -8 || mm > far + 8;
    const guides = list.flatMap((guide, n) => (n !== index ? [guide] : off ? [] : [{ ...guide, at_mm: mm }]));
    edit({ op: "set_sheet", fields: { guides } });
  };
  return (
    <g>
      {list.map((guide, index) => {
        const placeMm = pulled?.index === index ? pulled.at : guide.at_mm;
        const [x, y] = apply(seen.screenFromPage, [placeMm, placeMm]);
        const d = guide.axis === "x" ? `M${x} 0V${seen.size.height}` : `M0 ${y}H${seen.size.width}`;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: guides have no other name
          <g key={index}>
            <path d={d} className={css.guide} pointerEvents="none" />
            <path
              d={d}
              className={css.guideHold}
              style={{ cursor: guide.axis === "x" ? "ew-resize" : "ns-resize" }}
              data-testid={`guide ${guide.axis}`}
              onPointerDown={(event) => {
                if (event.button !== 0 || useTable.getState().tool !== "select") return;
                event.stopPropagation();
                event.currentTarget.setPointerCapture(event.pointerId);
                ends.current = false;
                setPulled({ index, at: guide.at_mm });
              }}
              onPointerMove={(event) => pulled && setPulled({ index, at: mmAt(event, guide.axis) })}
              onPointerUp={() => {
                if (pulled && pulled.at !== guide.at_mm) keep(index, pulled.at);
                setPulled(undefined);
              }}
            >
              <title>{t("Guide: pull to move it, or off the sheet to remove it")}</title>
            </path>
          </g>
        );
      })}
    </g>
  );
}

/** What a pull measures, beside it. */
function Says({ state, seen }: Pick<Props, "state" | "seen">) {
  const { length, unit } = useUnit();
  const { pull, selected } = usePicked(useTable, "pull", "selected");
  if (!pull || pull.kind === "trace" || pull.kind === "cut" || pull.kind === "mark") return null;
  const figure = (mm: number) => length(mm).replace(` ${unit}`, "");
  let [at, text]: [Point, string] = [[0, 0], ""];
  if (pull.kind === "draw") {
    const { box } = pull;
    at = [(box.left + box.right) / 2, box.bottom];
    text = `${figure(box.right - box.left)} × ${length(box.bottom - box.top)}`;
  } else {
    const corners = cornersOf(state.layout.layers, state.frames, selected);
    if (!corners.length) return null;
    const box = boundsOf(moved(corners, pullMatrix(pull, state, selected) ?? [1, 0, 0, 0, 1, 0, 0, 0, 1]));
    at = [(box.left + box.right) / 2, box.bottom];
    if (pull.kind === "move")
      text = `${figure(box.left)}, ${length(box.top)}${pull.copy ? t(", a copy") : ""}`;
    else if (pull.kind === "turn") text = `${pull.turn}°`;
    else text = `${figure(pull.says[0])} × ${length(pull.says[1])}`;
  }
  const [x, y] = apply(seen.screenFromPage, at);
  return <Label at={[x, y + 18]} text={text} />;
}
