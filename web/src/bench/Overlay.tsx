import { type DragEvent, useMemo, useRef } from "react";
import type { JobState, Page, Row, Text } from "../api/client";
import { useChange } from "../api/queries";
import { percent } from "../ui/format";
import { FloorLine } from "./FloorLine";
import { held } from "./fitting";
import { Handles, Lines, Readout } from "./Handles";
import { Heat } from "./Heat";
import { droppedFiles, PHOTO_TYPE, useImport } from "./importing";
import { KeepAreas } from "./KeepAreas";
import { apply, type Matrix, type Point, path } from "./placing";
import { SurfaceHandles } from "./SurfaceHandles";
import css from "./sheet.module.css";
import { useBench } from "./store";
import { laid } from "./surfaces";
import { usePulls } from "./usePulls";

/** What lies over the picture and can be worked on: lines, words, openings, handles. How photos are pulled: usePulls. */
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
  const { set, draft, also, part, keeps, heat, walk, floorOf } = useBench();
  const { edit } = useChange(state.id);
  const bring = useImport(state.id);
  const pulls = usePulls(state, svg, screenFromPage, scale);
  const bleed = page.bleed_mm ?? 3;
  const safe = page.safe_mm ?? 5;

  // An opening whose points are pulled is where they pull it to.
  const pulled = useMemo(
    () => (draft?.surface ? held(state, draft.opening, draft) : undefined),
    [state, draft],
  );
  const shapes = useMemo(
    () =>
      rows.map((row) => ({
        row,
        d: path(
          (row.opening === pulled?.row.opening
            ? laid(row.outline as unknown as Point[], pulled.lay)
            : (row.shape as unknown as Point[])
          ).map((point) => apply(screenFromPage, point)),
        ),
      })),
    [rows, screenFromPage, pulled],
  );
  const drop = async (event: DragEvent, row: Row) => {
    event.preventDefault();
    event.stopPropagation();
    pulls.setOver(undefined);
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
        onPointerMove={pulls.move}
        onPointerUp={pulls.up}
        onPointerCancel={pulls.up}
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
            data-over={pulls.over === row.opening || undefined}
            data-hand={hand ? "" : undefined}
            data-empty={row.photo ? undefined : ""}
            onPointerDown={(event) => pulls.down(event, row)}
            onFocus={(event) =>
              event.currentTarget.matches(":focus-visible") && set({ selected: row.opening })
            }
            onKeyDown={(event) => {
              if (event.key !== "Enter" || !hand) return;
              event.preventDefault();
              pulls.putDown(row.opening);
            }}
            onDragOver={(event) => {
              event.preventDefault();
              pulls.setOver(row.opening);
            }}
            onDragLeave={() => pulls.setOver(undefined)}
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
        {chosen && pulls.lines && <Lines row={chosen} lines={pulls.lines} screenFromPage={screenFromPage} />}
        {chosen && chosenHeld && (part !== "surface" || walk) && (
          <Handles
            row={chosen}
            turn={chosenHeld.lying.turn_deg}
            screenFromPage={screenFromPage}
            onTurn={(event) => pulls.handle(event, "turn", chosenHeld)}
            onZoom={(event) => pulls.handle(event, "zoom", chosenHeld)}
          />
        )}
        {chosen && chosenHeld && draft?.revision === undefined && draft && !draft.surface && (
          <Readout
            at={apply(screenFromPage, chosenHeld.lay.to([0, 0]))}
            zoom={chosenHeld.lying.zoom}
            turn={chosenHeld.lying.turn_deg}
          />
        )}
        {floorOf && (
          <FloorLine key={floorOf} state={state} page={page} echo={floorOf} screenFromPage={screenFromPage} />
        )}
      </svg>
      {pulls.carried && (
        <img
          className={css.carried}
          src={pulls.carried.photo}
          alt=""
          style={{ left: pulls.carried.at[0], top: pulls.carried.at[1] }}
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
