import { type DragEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { type JobState, type Page, type Row, type Text, thumb } from "../api/client";
import { useChange } from "../api/queries";
import { percent } from "../ui/format";
import { type Held, held, useFitting } from "./fitting";
import { Heat } from "./Heat";
import { usePutDown } from "./hand";
import { droppedFiles, PHOTO_TYPE, useImport } from "./importing";
import { KeepAreas, keepAreas } from "./KeepAreas";
import { altering } from "./layers";
import {
  apply,
  boundsOf,
  inverse,
  type Lying,
  type Matrix,
  multiply,
  openingFromPhoto,
  type Point,
  path,
  shifted,
  zoomed,
} from "./placing";
import { SurfaceHandles } from "./SurfaceHandles";
import css from "./sheet.module.css";
import { useBench } from "./store";

type Pull =
  | { kind: "shift"; held: Held; from: Point }
  | { kind: "turn"; held: Held; from: number }
  | { kind: "zoom"; held: Held; from: number }
  | { kind: "carry"; opening: string; start: Point; moved: boolean };

/** What lies over the picture and can be worked on: lines, words, openings, handles. All direct manipulation is here. */
export function Overlay({
  state,
  page,
  rows,
  texts,
  screenFromPage,
  scale,
  size,
  guides,
  selected,
  hand,
}: {
  state: JobState;
  page: Page;
  rows: Row[];
  texts: Text[];
  screenFromPage: Matrix;
  scale: number;
  size: { width: number; height: number };
  guides: boolean;
  selected?: string;
  hand: ReturnType<typeof useBench.getState>["hand"];
}) {
  const svg = useRef<SVGSVGElement>(null);
  const pull = useRef<Pull>(undefined);
  const [over, setOver] = useState<string>();
  const [carried, setCarried] = useState<{ photo: string; at: Point }>();
  const set = useBench((bench) => bench.set);
  const { draft, also, part, keeps, heat, walk, floorOf } = useBench();
  const [lines, setLines] = useState<{ x?: number; y?: number }>();
  const floor = useRef<Point>(undefined);
  const { edit } = useChange(state.id);
  const { show, keep } = useFitting(state);
  const bring = useImport(state.id);
  const putDown = usePutDown(state.id);
  const bleed = page.bleed_mm ?? 3;
  const safe = page.safe_mm ?? 5;

  const shapes = useMemo(
    () =>
      rows.map((row) => ({
        row,
        d: path((row.shape as unknown as Point[]).map((point) => apply(screenFromPage, point))),
      })),
    [rows, screenFromPage],
  );
  const at = (event: { clientX: number; clientY: number }): Point => {
    const box = svg.current?.getBoundingClientRect();
    return [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)];
  };
  const inOpening = (row: Row, point: Point): Point =>
    apply(inverse(multiply(screenFromPage, row.page_from_opening)), point);
  const openingUnder = (event: { clientX: number; clientY: number }) =>
    (
      document
        .elementsFromPoint(event.clientX, event.clientY)
        .find((found) => found.getAttribute("data-opening")) ?? null
    )?.getAttribute("data-opening") ?? undefined;

  const down = (event: PointerEvent, row: Row) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (hand) {
      putDown(row.opening);
      return;
    }
    if (floorOf) {
      drawFloor(at(event));
      return;
    }
    if ((event.shiftKey || event.ctrlKey || event.metaKey) && selected) {
      const others = also.includes(row.opening)
        ? also.filter((opening) => opening !== row.opening)
        : [...also, row.opening];
      if (row.opening !== selected) set({ selected, also: others });
      return;
    }
    const now = held(state, row.opening);
    svg.current?.setPointerCapture(event.pointerId);
    if (now && selected === row.opening && !event.altKey)
      pull.current = { kind: "shift", held: now, from: inOpening(row, at(event)) };
    else if (now) pull.current = { kind: "carry", opening: row.opening, start: at(event), moved: false };
    set({ selected: row.opening });
  };

  // A floor line is drawn by two clicks, wherever they are.
  const drawFloor = (point: Point) => {
    const here = apply(inverse(screenFromPage), point);
    const echo = page.layers.find((layer) => layer.id === floorOf);
    if (echo?.kind !== "echo") {
      set({ floorOf: undefined });
      return;
    }
    const from = floor.current;
    if (!from) {
      floor.current = here;
      setLines({ x: point[0], y: point[1] });
      return;
    }
    const line = [from, here].map((p) => [Math.round(p[0] * 100) / 100, Math.round(p[1] * 100) / 100]);
    edit.mutate({
      edit: altering(echo, (now) => ({
        surface: null,
        floor: { ...now.floor, line: line as [[number, number], [number, number]] },
      })),
    });
    floor.current = undefined;
    setLines(undefined);
    set({ floorOf: undefined });
  };

  /** The photo's middle, or what must stay visible, drawn to the opening's middle or thirds; the lines say where. */
  const drawn = (now: Held, lying: Lying): Lying => {
    const near = 6 / scale;
    const box = boundsOf(now.outline);
    const onto = openingFromPhoto(now.outline, now.photo, lying);
    const [area] = keepAreas(now.photo);
    const px = (fx: number, fy: number) => apply(onto, [fx * now.photo.width, fy * now.photo.height]);
    const marks = [
      px(0.5, 0.5),
      ...(area ? [px(area.left + area.width / 2, area.top + area.height / 2)] : []),
    ];
    const by: [number, number] = [0, 0];
    const shown: { x?: number; y?: number } = {};
    const wide = box.right - box.left;
    const high = box.bottom - box.top;
    for (const [axis, low, size] of [
      [0, box.left, wide],
      [1, box.top, high],
    ] as const) {
      const lines = [low + size / 2, low + size / 3, low + (2 * size) / 3];
      let best = near;
      marks.forEach((mark, which) => {
        for (const line of which === 0 ? lines.slice(0, 1) : lines) {
          const off = line - mark[axis];
          if (Math.abs(off) < best) {
            best = Math.abs(off);
            by[axis] = off;
            shown[axis === 0 ? "x" : "y"] = line;
          }
        }
      });
    }
    const moved = shifted(now.outline, now.photo, lying, by);
    setLines(Object.keys(shown).length ? shown : undefined);
    return moved;
  };

  const centre = (row: Row): Point => apply(multiply(screenFromPage, row.page_from_opening), [0, 0]);
  const angle = (row: Row, point: Point) => {
    const [x, y] = inOpening(row, point);
    return (Math.atan2(-y, x) * 180) / Math.PI;
  };

  const move = (event: PointerEvent) => {
    const now = pull.current;
    if (!now) return;
    const point = at(event);
    if (now.kind === "carry") {
      if (!now.moved && Math.hypot(point[0] - now.start[0], point[1] - now.start[1]) < 5) return;
      now.moved = true;
      const photo = held(state, now.opening)?.photo;
      if (photo) setCarried({ photo: thumb(photo), at: point });
      setOver(openingUnder(event));
      return;
    }
    const { row, outline, photo, lying } = now.held;
    const here = inOpening(row, point);
    if (now.kind === "shift") {
      const pulled = shifted(outline, photo, lying, [here[0] - now.from[0], here[1] - now.from[1]]);
      if (event.altKey) setLines(undefined);
      show(row.opening, event.altKey ? pulled : drawn(now.held, pulled));
    }
    if (now.kind === "turn") {
      let turn = lying.turn_deg + angle(row, point) - now.from;
      // Whole degrees draw the turn to them; Alt lets it go free.
      if (!event.altKey && Math.abs(turn - Math.round(turn)) < 0.3) turn = Math.round(turn);
      turn = ((((turn + 180) % 360) + 360) % 360) - 180;
      show(
        row.opening,
        zoomed(outline, photo, { ...lying, turn_deg: Math.round(turn * 100) / 100 }, 1, [0, 0]),
      );
    }
    if (now.kind === "zoom")
      show(row.opening, zoomed(outline, photo, lying, Math.hypot(...here) / now.from, [0, 0]));
  };

  const up = (event: PointerEvent) => {
    const now = pull.current;
    pull.current = undefined;
    setCarried(undefined);
    setOver(undefined);
    if (!now) return;
    setLines(undefined);
    if (now.kind === "carry") {
      const target = now.moved ? openingUnder(event) : undefined;
      if (target && target !== now.opening) {
        edit.mutate({ edit: { op: "swap", first: now.opening, second: target, keep_fit: event.shiftKey } });
        set({ selected: target });
      } else if (now.moved && document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-pile]"))
        edit.mutate({ edit: { op: "clear", openings: [now.opening] } });
    } else keep();
  };

  // The wheel zooms the selected photo about the pointer; React's own wheel listeners cannot hold the page still.
  const latest = useRef({ state, selected, inOpening, at, show, keep });
  latest.current = { state, selected, inOpening, at, show, keep };
  useEffect(() => {
    const target = svg.current;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const wheel = (event: WheelEvent) => {
      const { state, selected, inOpening, at, show, keep } = latest.current;
      const on = (event.target as Element).getAttribute("data-opening");
      const now = on && on === selected && !event.ctrlKey ? held(state, on) : undefined;
      if (!now) return;
      event.preventDefault();
      const factor = Math.exp(-event.deltaY / 600);
      show(now.row.opening, zoomed(now.outline, now.photo, now.lying, factor, inOpening(now.row, at(event))));
      clearTimeout(timer);
      timer = setTimeout(keep, 300);
    };
    target?.addEventListener("wheel", wheel, { passive: false });
    return () => target?.removeEventListener("wheel", wheel);
  }, []);

  const drop = async (event: DragEvent, row: Row) => {
    event.preventDefault();
    event.stopPropagation();
    setOver(undefined);
    const carriedPhoto = event.dataTransfer.getData(PHOTO_TYPE);
    if (carriedPhoto) {
      edit.mutate({ edit: { op: "put", opening: row.opening, photo: carriedPhoto } });
      set({ selected: row.opening });
      return;
    }
    const [first] = await bring(await droppedFiles(event.dataTransfer));
    if (first) edit.mutate({ edit: { op: "put", opening: row.opening, photo: first.id } });
    set({ selected: row.opening });
  };

  const chosen = rows.find((row) => row.opening === selected);
  const chosenHeld = chosen && held(state, chosen.opening, draft);
  const rect = (inset: number) => ({
    x: (bleed + inset) * scale,
    y: (bleed + inset) * scale,
    width: Math.max(0, (page.width_mm - 2 * inset) * scale),
    height: Math.max(0, (page.height_mm - 2 * inset) * scale),
  });

  return (
    <>
      <svg
        ref={svg}
        className={css.overlay}
        width={size.width}
        height={size.height}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
      >
        <title>{page.name}</title>
        {guides && (
          <g className={css.guides}>
            <rect {...rect(0)} className={css.trim} />
            {safe > 0 && <rect {...rect(safe)} className={css.safe} />}
            {(page.lines ?? []).map((line) => {
              const p = (bleed + line.at_mm) * scale;
              const ends =
                line.axis === "x"
                  ? { x1: p, x2: p, y1: 0, y2: size.height }
                  : { y1: p, y2: p, x1: 0, x2: size.width };
              return <line key={`${line.axis}${line.at_mm}`} {...ends} className={css.fold} />;
            })}
          </g>
        )}
        {texts.map((text) => (
          <g
            key={text.id}
            role="button"
            tabIndex={0}
            aria-label={`Words: ${text.name || text.id}`}
            className={css.text}
            data-selected={selected === text.id || undefined}
            onPointerDown={(event) => {
              event.stopPropagation();
              set({ selected: text.id });
            }}
            onFocus={(event) => event.currentTarget.matches(":focus-visible") && set({ selected: text.id })}
          >
            <rect
              x={-(text.width_mm * scale) / 2}
              y={-(text.height_mm * scale) / 2}
              width={text.width_mm * scale}
              height={text.height_mm * scale}
              transform={`translate(${(bleed + (text.centre[0] ?? 0)) * scale} ${(bleed + (text.centre[1] ?? 0)) * scale}) rotate(${-(text.turn_deg ?? 0)})`}
            />
          </g>
        ))}
        {shapes.map(({ row, d }) => (
          <g
            key={row.opening}
            role="button"
            tabIndex={0}
            aria-label={describe(row, state)}
            aria-pressed={selected === row.opening}
            className={css.opening}
            data-selected={selected === row.opening || also.includes(row.opening) || undefined}
            data-over={over === row.opening || undefined}
            data-hand={hand ? "" : undefined}
            data-empty={row.photo ? undefined : ""}
            onPointerDown={(event) => down(event, row)}
            onFocus={(event) =>
              event.currentTarget.matches(":focus-visible") && set({ selected: row.opening })
            }
            onKeyDown={(event) => {
              if (event.key !== "Enter" || !hand) return;
              event.preventDefault();
              putDown(row.opening);
            }}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(row.opening);
            }}
            onDragLeave={() => setOver(undefined)}
            onDrop={(event) => drop(event, row)}
          >
            <path d={d} className={css.light} />
            <path d={d} className={css.dark} data-opening={row.opening} />
          </g>
        ))}
        {walk && chosen && (
          <path
            className={css.dim}
            pointerEvents="none"
            fillRule="evenodd"
            d={`M-3000 -3000H${size.width + 3000}V${size.height + 3000}H-3000Z${shapes.find(({ row }) => row === chosen)?.d}`}
          />
        )}
        {heat && chosen?.photo && (
          <Heat state={state} opening={chosen.opening} screenFromPage={screenFromPage} />
        )}
        {keeps && <KeepAreas state={state} rows={rows} screenFromPage={screenFromPage} />}
        {chosen && part === "surface" && !walk && (
          <SurfaceHandles state={state} page={page} row={chosen} screenFromPage={screenFromPage} />
        )}
        {chosen && lines && !floorOf && <Lines row={chosen} lines={lines} screenFromPage={screenFromPage} />}
        {floorOf && lines && <circle className={css.knob} cx={lines.x} cy={lines.y} r={4} />}
        {chosen && chosenHeld && (part !== "surface" || walk) && (
          <Handles
            row={chosen}
            turn={chosenHeld.lying.turn_deg}
            screenFromPage={screenFromPage}
            onTurn={(event) => {
              event.stopPropagation();
              svg.current?.setPointerCapture(event.pointerId);
              pull.current = { kind: "turn", held: chosenHeld, from: angle(chosen, at(event)) };
            }}
            onZoom={(event) => {
              event.stopPropagation();
              svg.current?.setPointerCapture(event.pointerId);
              const [x, y] = inOpening(chosen, at(event));
              pull.current = { kind: "zoom", held: chosenHeld, from: Math.max(1, Math.hypot(x, y)) };
            }}
          />
        )}
        {chosen && chosenHeld && draft?.revision === undefined && draft && !draft.matrix && (
          <Readout at={centre(chosen)} zoom={chosenHeld.lying.zoom} turn={chosenHeld.lying.turn_deg} />
        )}
        {floorOf && (
          <rect
            className={css.floor}
            x={-2000}
            y={-2000}
            width={size.width + 4000}
            height={size.height + 4000}
            onPointerDown={(event) => {
              event.stopPropagation();
              drawFloor(at(event));
            }}
          />
        )}
      </svg>
      {carried && (
        <img
          className={css.carried}
          src={carried.photo}
          alt=""
          style={{ left: carried.at[0], top: carried.at[1] }}
        />
      )}
    </>
  );
}

/** Where what is pulled was drawn to: lines across the opening. */
function Lines({
  row,
  lines,
  screenFromPage,
}: {
  row: Row;
  lines: { x?: number; y?: number };
  screenFromPage: Matrix;
}) {
  const box = boundsOf(row.outline as unknown as Point[]);
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

function describe(row: Row, state: JobState): string {
  const photo = state.job.photos?.find((entry) => entry.id === row.photo);
  if (!photo) return `Opening ${row.number}, empty`;
  const status = { order: "in order", look: "wants a look", stop: "stops the job" }[row.status];
  return `Opening ${row.number}, ${photo.name}, ${Math.round(row.ppi ?? 0)} ppi, ${percent(row.crop_share ?? 0)} cropped, ${status}`;
}

/** What can be pulled at the selected opening: turn above it, zoom at its lower right corner. */
function Handles({
  row,
  turn,
  screenFromPage,
  onTurn,
  onZoom,
}: {
  row: Row;
  turn: number;
  screenFromPage: Matrix;
  onTurn: (event: PointerEvent) => void;
  onZoom: (event: PointerEvent) => void;
}) {
  const outline = row.outline as unknown as Point[];
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
        <title>{`Pull to turn the photo (now ${turn}°)`}</title>
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
        <title>Pull to zoom the photo</title>
      </rect>
    </g>
  );
}

function Readout({ at, zoom, turn }: { at: Point; zoom: number; turn: number }) {
  return (
    <g className={css.readout} transform={`translate(${at[0]} ${at[1]})`} pointerEvents="none">
      <rect x={-52} y={-12} width={104} height={24} rx={2} />
      <text textAnchor="middle" y={4}>
        {`${zoom.toFixed(2)} × · ${turn.toFixed(1)}°`}
      </text>
    </g>
  );
}
