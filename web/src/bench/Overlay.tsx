import { type DragEvent, type MouseEvent, useEffect, useMemo, useRef } from "react";
import type { Row, Text } from "../api/client";
import { addHand, pageAt } from "../book/layouts";
import { useChange } from "../editing/changes";
import { held } from "../editing/fitting";
import { PHOTO_TYPE } from "../editing/sheets";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { apply, path } from "../geometry/placing";
import { laid } from "../geometry/surfaces";
import { OnSheet } from "../lettering/OnSheet";
import { useWords } from "../lettering/useWords";
import { Handles, Lines, Readout } from "../stage/Handles";
import { CutLines, type Seen } from "../stage/Stage";
import css from "../stage/stage.module.css";
import { percent } from "../ui/format";
import { underWay } from "../ui/underWay";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { FloorLine } from "./opening/FloorLine";
import { Heat } from "./opening/Heat";
import { KeepAreas } from "./opening/KeepAreas";
import { SideHandles } from "./opening/SideHandles";
import { SurfaceHandles } from "./opening/SurfaceHandles";
import { droppedFiles, useImport } from "./pile/importing";
import { TextBoxes } from "./TextBoxes";
import { usePulls } from "./usePulls";

/** What lies over the picture and can be worked on: lines, words, openings, handles. How photos are pulled: usePulls. */
export function Overlay({
  state,
  texts,
  seen,
  onMenu,
}: {
  state: View;
  texts: Text[];
  seen: Seen;
  /** A menu was asked for, of an opening or a text. */
  onMenu: (event: MouseEvent, layer: Row | Text) => void;
}) {
  const { screenFromPage, scale, size } = seen;
  const { rows, sheet, layout } = state;
  const svg = useRef<SVGSVGElement>(null);
  const { set, writing, draft, also, part, keeps, heat, walk, floorOf, guides, selected, hand } = usePicked(
    useBench,
    "set",
    "writing",
    "draft",
    "also",
    "part",
    "keeps",
    "heat",
    "walk",
    "floorOf",
    "guides",
    "selected",
    "hand",
  );
  const { edit } = useChange(state);
  const bring = useImport(state.id);
  const { wordsOf, keep } = useWords(state);
  const pulls = usePulls(state, svg, screenFromPage, scale);

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
          (row.opening === pulled?.row.opening ? laid(row.outline, pulled.lay) : row.shape).map((point) =>
            apply(screenFromPage, point),
          ),
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
      putSeveral(carriedPhoto.split(" "), row);
      return;
    }
    const files = droppedFiles(event.dataTransfer);
    await underWay(async () => {
      const brought = await bring(await files);
      putSeveral(
        brought.map((photo) => photo.id),
        row,
      );
    });
  };
  /** The first into the opening it was dropped on, the others into the empty ones that are read after it. */
  const putSeveral = (photos: string[], row: Row) => {
    const after = [...rows].sort((a, b) => a.reading - b.reading);
    const turned = [...after.slice(after.indexOf(row) + 1), ...after.slice(0, after.indexOf(row))];
    const places = [row, ...turned.filter((other) => !other.photo && !other.pinned)];
    const gesture = photos.length > 1 ? `drop-${crypto.randomUUID()}` : undefined;
    photos.slice(0, places.length).forEach((photo, n) => {
      edit({ op: "put", opening: places[n]?.opening ?? "", photo }, { gesture });
    });
    set({ selected: row.opening, hand: undefined });
  };
  // The focus goes along with the selection, so that keys and Tab go on from what is seen to be selected.
  useEffect(() => {
    const active = document.activeElement;
    const free = !active || active === document.body || svg.current?.contains(active);
    const meant = selected && svg.current?.querySelector(`[data-layer="${CSS.escape(selected)}"]`);
    if (free && meant instanceof SVGElement && meant !== active) meant.focus({ preventScroll: true });
  }, [selected]);

  const typed = texts.find((text) => text.id === writing);
  const chosen = rows.find((row) => row.opening === selected);
  const chosenHeld = chosen && held(state, chosen.opening, draft);
  return (
    <>
      <svg
        ref={svg}
        className={css.overlay}
        width={size.width}
        height={size.height}
        onPointerDown={({ target, currentTarget, clientX }) => {
          if (target === currentTarget) addHand(state, edit, pageAt(state, clientX, currentTarget));
        }}
        onPointerMove={pulls.move}
        onPointerUp={pulls.up}
        onPointerCancel={pulls.cancel}
        data-pulling={pulls.pulling || undefined}
      >
        <title>{sheet.name}</title>
        {guides && <CutLines sheet={layout} seen={seen} />}
        <TextBoxes
          state={state}
          texts={texts}
          seen={seen}
          isBare={(text) => !wordsOf(text).text}
          onMenu={onMenu}
        />
        {shapes.map(({ row, d }) => (
          <g
            key={row.opening}
            data-layer={row.opening}
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
            onContextMenu={(event) => onMenu(event, row)}
            onFocus={(event) =>
              // One of several that are selected stays one of them.
              selected !== row.opening &&
              event.currentTarget.matches(":focus-visible") &&
              set({ selected: row.opening })
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
          <>
            <SurfaceHandles state={state} row={chosen} screenFromPage={screenFromPage} />
            <SideHandles state={state} row={chosen} screenFromPage={screenFromPage} />
          </>
        )}
        {chosen && pulls.lines && <Lines row={chosen} lines={pulls.lines} screenFromPage={screenFromPage} />}
        {chosen && chosenHeld && (part !== "surface" || walk) && (
          <Handles
            row={chosen}
            turn={chosenHeld.lying.turn_deg}
            screenFromPage={screenFromPage}
            onTurn={(event) => pulls.handle(event, "turn", chosenHeld)}
            onZoom={(event) => pulls.handle(event, "zoom", chosenHeld)}
            onCarry={(event) => pulls.carry(event, chosenHeld)}
          />
        )}
        {chosen && chosenHeld && draft?.state === "open" && !draft.surface && (
          <Readout
            at={apply(screenFromPage, chosenHeld.lay.to([0, 0]))}
            zoom={chosenHeld.lying.zoom}
            turn={chosenHeld.lying.turn_deg}
          />
        )}
        {floorOf && <FloorLine key={floorOf} state={state} echo={floorOf} screenFromPage={screenFromPage} />}
      </svg>
      {pulls.carried && (
        <>
          <img
            className={css.carried}
            src={pulls.carried.photo}
            alt=""
            style={{ left: pulls.carried.at[0], top: pulls.carried.at[1] }}
          />
          <span
            className={css.sign}
            role="status"
            style={{ left: pulls.carried.at[0], top: pulls.carried.at[1] }}
          >
            {pulls.carried.what}
          </span>
        </>
      )}
      {typed && (
        <OnSheet
          key={typed.id}
          state={state}
          seen={seen}
          box={typed}
          words={wordsOf(typed)}
          onKeep={(text, gesture) => keep(typed, text, gesture)}
          onEnd={() => set({ writing: undefined })}
        />
      )}
    </>
  );
}

function describe(row: Row, state: View): string {
  const photo = state.photo.get(row.photo ?? "");
  if (!photo) return t("Opening {number}, empty", { number: row.number });
  const status = {
    order: "ready",
    look: t("check this"),
    stop: t("blocks export"),
    checking: t("being checked"),
  }[row.status];
  return t("Opening {number}, {name}, {ppi} ppi, {crop_share} cropped, {status}", {
    number: row.number,
    name: photo.name,
    ppi: Math.round(row.ppi ?? 0),
    crop_share: percent(row.crop_share ?? 0),
    status,
  });
}
