import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Layout, Row } from "../../api/client";
import { type Said, useChange } from "../../editing/changes";
import { held } from "../../editing/fitting";
import type { Done } from "../../editing/jobs";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { echoesOf, openingOf } from "../../editing/view";
import { type Drawn, drawnToOthers } from "../../geometry/lines";
import { apply, boundsOf, inverse, type Matrix, type Point, path } from "../../geometry/placing";
import { helped, isConvex, meshOf, onGrid, type Surface } from "../../geometry/surfaces";
import { pointerIn } from "../../stage/pointer";
import css from "../../stage/stage.module.css";
import { complain } from "../../ui/complain";
import { follow } from "../../ui/follow";
import { fixed } from "../../ui/format";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";

const GUIDE_MM = 5;
const NEAR_PX = 7;
const FOLDED = t("These points fold or cave in, so a photo cannot lie on them. Pull them apart again.");

/** The points of a surface that can be pulled: rows of page points. */
function pointsOf(surface: Surface | null | undefined): Point[][] | undefined {
  if (surface?.kind === "corners") {
    const [a, b, c, d] = surface.points;
    return [
      [a, b],
      [d, c],
    ] as Point[][];
  }
  if (surface?.kind === "grid") return surface.net;
  if (surface?.kind === "flat" || surface?.kind === "roll") return [[surface.centre]];
  return undefined;
}

const ring = (points: Point[][]): Point[] => {
  const [[a, b] = [], [d, c] = []] = points;
  return [a, b, c, d] as Point[];
};

function withPoints(surface: Surface, points: Point[][]): Surface {
  const pair = ([x, y]: Point): [number, number] => [
    Math.round(x * 1000) / 1000,
    Math.round(y * 1000) / 1000,
  ];
  if (surface.kind === "corners")
    return { ...surface, points: ring(points).map(pair) as typeof surface.points };
  if (surface.kind === "grid")
    return { ...surface, net: points.map((row) => row.map(pair)) as typeof surface.net };
  return { ...surface, centre: pair(points[0]?.[0] as Point) };
}

/** Handles on the surface of the selected opening, and on those of its echoes that have their own. */
export function SurfaceHandles({
  state,
  row,
  screenFromPage,
}: {
  state: View;
  row: Row;
  screenFromPage: Matrix;
}) {
  const { edit } = useChange(state);
  const layer = openingOf(state, row.opening);
  if (!layer) return null;
  return (
    <>
      <Points
        state={state}
        row={row}
        name="opening"
        surface={layer.surface}
        screenFromPage={screenFromPage}
        onKeep={(surface, done) => edit(laying(layer.id, surface), done)}
      />
      {echoesOf(state, row.opening).map(
        (echo) =>
          echo.surface && (
            <Points
              key={echo.id}
              state={state}
              row={row}
              name={echo.id}
              surface={echo.surface}
              screenFromPage={screenFromPage}
              onKeep={(surface, done) => edit(laying(echo.id, surface), done)}
            />
          ),
      )}
    </>
  );
}

const laying = (layer: string, surface: Surface): Said => ({
  op: "set_fields",
  layers: [layer],
  fields: { surface },
  expect: {},
});

function Points({
  state,
  row,
  name,
  surface,
  screenFromPage,
  onKeep,
}: {
  state: View;
  row: Row;
  name: string;
  surface: Surface;
  screenFromPage: Matrix;
  onKeep: (surface: Surface, done: Done) => void;
}) {
  const group = useRef<SVGGElement>(null);
  const pulled = useBench((bench) => bench.pulled);
  const { help, snap, set } = usePicked(useBench, "help", "snap", "set");
  const stored = pointsOf(surface);
  const mine = pulled?.opening === name ? pulled : undefined;
  const page = state.layout;
  const points = mine?.points ?? stored;
  if (!stored || !points) return null;
  const pageFromScreen = inverse(screenFromPage);
  const isOpening = name === "opening";

  const moved = (place: [number, number], to: Point): Point[][] => {
    if (surface.kind === "corners") {
      const order = place[0] === 0 ? place[1] : 3 - place[1];
      const [a, b, c, d] = helped(ring(stored), order, to, help) as [Point, Point, Point, Point];
      return [
        [a, b],
        [d, c],
      ];
    }
    return stored.map((line, j) => line.map((point, i) => (j === place[0] && i === place[1] ? to : point)));
  };
  /** A place drawn to a neighbour's corner, else each way to neighbours' edges and middles, else to the grid. */
  const snapped = (from: Point, to: Point, free: boolean): { to: Point; lines?: Drawn } => {
    if (!snap || free) return { to };
    const near = NEAR_PX / (screenFromPage[0] ?? 1);
    const shapes = state.rows.filter((other) => other.opening !== row.opening).map((other) => other.shape);
    const sheet = { left: 0, top: 0, right: page.width_mm, bottom: page.height_mm };
    const whole = points.length === 1; // the opening is moved as it lies
    const corner =
      !whole &&
      shapes
        .filter((shape) => shape.length <= 8)
        .flat()
        .find((point) => Math.hypot(point[0] - to[0], point[1] - to[1]) < near);
    if (corner) return { to: corner };
    const lies = boundsOf(whole && isOpening ? row.shape : [from]);
    const moved = {
      left: lies.left + to[0] - from[0],
      right: lies.right + to[0] - from[0],
      top: lies.top + to[1] - from[1],
      bottom: lies.bottom + to[1] - from[1],
    };
    const { by, lines } = drawnToOthers(moved, [...shapes.map(boundsOf), sheet], near);
    const grid = onGrid(to, GUIDE_MM);
    const place = (axis: 0 | 1, line: number | undefined) =>
      line !== undefined
        ? to[axis] + by[axis]
        : Math.abs(grid[axis] - to[axis]) < near
          ? grid[axis]
          : to[axis];
    return { to: [place(0, lines.x), place(1, lines.y)], lines };
  };
  const show = (next: Point[][], lines?: Drawn) => {
    const bad = surface.kind === "corners" && !isConvex(ring(next));
    set({ pulled: { opening: name, points: next, bad, lines } });
    const now = isOpening && !bad ? held(state, row.opening) : undefined;
    if (now)
      set({
        draft: { opening: row.opening, lying: now.lying, surface: withPoints(surface, next), state: "open" },
      });
  };
  const keep = () => {
    const { pulled, draft } = useBench.getState();
    if (!pulled) return;
    if (pulled.bad) {
      complain(new Error(FOLDED));
      set({ pulled: undefined, draft: undefined });
      return;
    }
    const mine = draft && { ...draft, state: "sent" as const };
    set({ draft: mine });
    onKeep(withPoints(surface, pulled.points), {
      onStored: (head) => {
        if (useBench.getState().pulled === pulled) set({ pulled: undefined });
        if (mine && useBench.getState().draft === mine)
          set({ draft: { ...mine, state: "stored", seq: head.seq } });
      },
      onFailed: () => set({ pulled: undefined, draft: undefined }),
    });
  };
  const start = (event: PointerEvent<SVGElement>, place: [number, number]) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const drawing = group.current?.ownerSVGElement;
    const from: Point = [event.clientX, event.clientY];
    const origin = stored[place[0]]?.[place[1]] as Point;
    let went = false;
    const move = (next: globalThis.PointerEvent) => {
      if (!went && Math.hypot(next.clientX - from[0], next.clientY - from[1]) < 2) return;
      went = true;
      const here = apply(pageFromScreen, pointerIn(drawing, next));
      const there = apply(pageFromScreen, pointerIn(drawing, { clientX: from[0], clientY: from[1] }));
      const to: Point = [origin[0] + here[0] - there[0], origin[1] + here[1] - there[1]];
      const drawn = snapped(origin, to, next.altKey);
      show(moved(place, drawn.to), drawn.lines);
    };
    follow(
      event,
      move,
      () => went && keep(),
      () => set({ pulled: undefined, draft: undefined }),
    );
  };
  const press = (event: KeyboardEvent, place: [number, number]) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const step = event.shiftKey ? 0.1 : 1;
    const from = stored[place[0]]?.[place[1]] as Point;
    show(moved(place, [from[0] + (by[0] ?? 0) * step, from[1] + (by[1] ?? 0) * step]));
    keep();
  };
  const lines =
    surface.kind === "grid"
      ? meshOf(points)
      : surface.kind === "corners"
        ? [[...ring(points), ring(points)[0] as Point]]
        : [];
  return (
    <g ref={group} data-bad={mine?.bad || undefined} className={css.pulled}>
      {mine && snap && <GuideGrid page={page} screenFromPage={screenFromPage} />}
      {mine?.lines && <EdgeLines page={page} lines={mine.lines} screenFromPage={screenFromPage} />}
      {lines.map((line, index) => {
        const d = path(line.map((point) => apply(screenFromPage, point))).slice(0, -1);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name
          <g key={index}>
            <path d={d} className={css.meshLight} />
            <path d={d} className={css.mesh} />
          </g>
        );
      })}
      {points.map((line, j) =>
        line.map((point, i) => {
          const [x, y] = apply(screenFromPage, point);
          const label =
            surface.kind === "flat" || surface.kind === "roll"
              ? isOpening
                ? t("Middle of the opening")
                : t("Middle of the echo")
              : isOpening
                ? t("point {point} of row {row}", { point: i + 1, row: j + 1 })
                : t("Echo: point {point} of row {row}", { point: i + 1, row: j + 1 });
          return (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: a net's points are told by where they stand in it
              key={`${j} ${i}`}
              role="button"
              tabIndex={0}
              aria-label={label}
              x={x - 12}
              y={y - 12}
              width={24}
              height={24}
              className={css.reach}
              onPointerDown={(event) => start(event, [j, i])}
              onKeyDown={(event) => press(event, [j, i])}
              data-testid={`${isOpening ? "corner" : "echo-corner"}-${j}-${i}`}
            >
              <title>
                {t("{label}: {x}, {y} mm", {
                  label,
                  x: fixed(point[0], 1),
                  y: fixed(point[1], 1),
                })}
              </title>
            </rect>
          );
        }),
      )}
      {points.flat().map((point, index) => {
        const [x, y] = apply(screenFromPage, point);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: as above
          <rect key={index} x={x - 5} y={y - 5} width={10} height={10} className={css.knob} />
        );
      })}
    </g>
  );
}

/** Where an edge or a middle was drawn to: lines across the page and what is around it. */
function EdgeLines({ page, lines, screenFromPage }: { page: Layout; lines: Drawn; screenFromPage: Matrix }) {
  const { width_mm: w, height_mm: h } = page;
  const ends: [Point, Point][] = [];
  if (lines.x !== undefined)
    ends.push([
      [lines.x, -h / 2],
      [lines.x, 1.5 * h],
    ]);
  if (lines.y !== undefined)
    ends.push([
      [-w / 2, lines.y],
      [1.5 * w, lines.y],
    ]);
  return ends.map(([a, b]) => {
    const d = `M${apply(screenFromPage, a)}L${apply(screenFromPage, b)}`;
    return (
      <g key={d} pointerEvents="none" data-testid="edge-line">
        <path d={d} className={css.meshLight} />
        <path d={d} className={css.mesh} />
      </g>
    );
  });
}

/** The grid that points snap to, every other line of it, from half a page beyond each edge. */
function GuideGrid({ page, screenFromPage }: { page: Layout; screenFromPage: Matrix }) {
  const step = 2 * GUIDE_MM;
  const { width_mm: w, height_mm: h } = page;
  const from = (size: number) => -Math.ceil(size / 2 / step) * step;
  const count = (size: number) => Math.round((size - 2 * from(size)) / step);
  const lines: [Point, Point][] = [
    ...Array.from({ length: count(w) + 1 }, (_, n): [Point, Point] => {
      const x = from(w) + n * step;
      return [
        [x, -h / 2],
        [x, 1.5 * h],
      ];
    }),
    ...Array.from({ length: count(h) + 1 }, (_, n): [Point, Point] => {
      const y = from(h) + n * step;
      return [
        [-w / 2, y],
        [1.5 * w, y],
      ];
    }),
  ];
  const d = lines.map(([a, b]) => `M${apply(screenFromPage, a)}L${apply(screenFromPage, b)}`).join("");
  return <path d={d} className={css.grid} />;
}
