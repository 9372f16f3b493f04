import { type DragEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { type JobState, type Page, type Row, type Text, thumb } from "../api/client";
import { useChange } from "../api/queries";
import { percent } from "../ui/format";
import { type Held, held, useFitting } from "./fitting";
import { usePutDown } from "./hand";
import { droppedFiles, PHOTO_TYPE, useImport } from "./importing";
import { apply, inverse, type Matrix, multiply, type Point, path, shifted, zoomed } from "./placing";
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
  const draft = useBench((bench) => bench.draft);
  const { edit } = useChange(state.id);
  const { show, keep } = useFitting(state.id);
  const bring = useImport(state.id);
  const putDown = usePutDown(state.id);
  const bleed = page.bleed_mm ?? 3;
  const safe = page.safe_mm ?? 5;

  const shapes = useMemo(
    () =>
      rows.map((row) => ({
        row,
        d: path(
          (row.outline as unknown as Point[]).map((point) =>
            apply(multiply(screenFromPage, row.page_from_opening), point),
          ),
        ),
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
    const now = held(state, row.opening);
    svg.current?.setPointerCapture(event.pointerId);
    if (now && selected === row.opening && !event.altKey)
      pull.current = { kind: "shift", held: now, from: inOpening(row, at(event)) };
    else if (now) pull.current = { kind: "carry", opening: row.opening, start: at(event), moved: false };
    set({ selected: row.opening });
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
    if (now.kind === "shift")
      show(row.opening, shifted(outline, photo, lying, [here[0] - now.from[0], here[1] - now.from[1]]));
    else if (now.kind === "turn") {
      let turn = lying.turn_deg + angle(row, point) - now.from;
      // Whole degrees draw the turn to them; Alt lets it go free.
      if (!event.altKey && Math.abs(turn - Math.round(turn)) < 0.3) turn = Math.round(turn);
      turn = ((((turn + 180) % 360) + 360) % 360) - 180;
      show(
        row.opening,
        zoomed(outline, photo, { ...lying, turn_deg: Math.round(turn * 100) / 100 }, 1, [0, 0]),
      );
    } else show(row.opening, zoomed(outline, photo, lying, Math.hypot(...here) / now.from, [0, 0]));
  };

  const up = (event: PointerEvent) => {
    const now = pull.current;
    pull.current = undefined;
    setCarried(undefined);
    setOver(undefined);
    if (!now) return;
    if (now.kind === "carry") {
      const target = now.moved ? openingUnder(event) : undefined;
      if (target && target !== now.opening) {
        edit.mutate({ edit: { op: "swap", first: now.opening, second: target } });
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
            data-selected={selected === row.opening || undefined}
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
        {chosen && chosenHeld && (
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
        {chosen && chosenHeld && draft?.revision === undefined && draft && (
          <Readout at={centre(chosen)} zoom={chosenHeld.lying.zoom} turn={chosenHeld.lying.turn_deg} />
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
