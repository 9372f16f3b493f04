import { useElementSize } from "@mantine/hooks";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { type JobState, type Page, pagePicture, type Text } from "../api/client";
import { DraftPhoto } from "./DraftPhoto";
import { Overlay } from "./Overlay";
import { apply, boundsOf, type Matrix, type Point } from "./placing";
import { Ruler, type Unit } from "./Rulers";
import css from "./sheet.module.css";
import { useBench } from "./store";

const RULER = 22;
const PAD = 26;

/** Shows a picture and keeps the old one until the new one is ready. */
function usePicture(source: string): string {
  const [shown, setShown] = useState(source);
  useEffect(() => {
    if (source === shown) return;
    let current = true;
    const image = new Image();
    image.src = source;
    const show = () => current && setShown(source);
    image.decode().then(show, show);
    return () => {
      current = false;
    };
  }, [source, shown]);
  return shown;
}

/** The sheet in the middle: the page's picture with rulers, lines and openings that can be worked on. */
export function Sheet({ state, page, unit }: { state: JobState; page: Page; unit: Unit }) {
  const { ref, width, height } = useElementSize();
  const { selected, hand, draft, notes, guides, before, preview, walk, part, view, set } = useBench();
  const bleed = page.bleed_mm ?? 3;
  const wide = page.width_mm + 2 * bleed;
  const high = page.height_mm + 2 * bleed;
  // Corners may be pulled off the page: there is room to work around it then.
  const pad = part === "surface" && !walk ? Math.max(PAD, Math.min(width, height) * 0.14) : PAD;
  const fit = Math.max(0.05, Math.min((width - RULER - 2 * pad) / wide, (height - RULER - 2 * pad) / high));
  const rows = state.ledger.filter((row) => row.page === page.id);
  const chosen = rows.find((row) => row.opening === selected);
  // In a walk the opening fills most of the room.
  const near = walk && chosen ? boundsOf(chosen.shape as unknown as Point[]) : undefined;
  const scale = near
    ? Math.min(
        (0.72 * (width - RULER)) / (near.right - near.left),
        (0.72 * (height - RULER)) / (near.bottom - near.top),
        12,
      )
    : fit * view;
  const size = { width: wide * scale, height: high * scale };
  const density = Math.min(2, window.devicePixelRatio || 1);
  const pictureWidth = Math.min(4000, Math.max(200, Math.round(size.width * density)));
  const shown = usePicture(
    pagePicture(state.id, page.id, state.revision, pictureWidth, notes && !walk, !before),
  );
  const texts = (page.layers.filter((layer) => layer.kind === "text") as Text[]).filter(
    (text) => text.visible !== false,
  );

  // The draft goes once the server's picture of it is on the screen.
  useEffect(() => {
    const revision = Number(new URL(shown, location.href).searchParams.get("revision"));
    if (draft?.revision !== undefined && revision >= draft.revision) set({ draft: undefined });
  }, [shown, draft, set]);

  // Room enough around the sheet that any opening can stand in the middle in a walk.
  const aside = near ? Math.max(width, height) / 2 : pad;
  const left = Math.max(RULER + aside, (width - size.width + RULER) / 2);
  const top = Math.max(RULER + aside, (height - size.height + RULER) / 2);
  const screenFromPage: Matrix = [scale, 0, bleed * scale, 0, scale, bleed * scale, 0, 0, 1];
  const scroller = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState<Point>([0, 0]);

  // A larger view keeps the selected opening, or else the middle of the sheet, in the middle.
  const middle = useRef<Point>([0, 0]);
  const box = chosen && boundsOf(chosen.shape as unknown as Point[]);
  const at = box
    ? apply(screenFromPage, [(box.left + box.right) / 2, (box.top + box.bottom) / 2])
    : [size.width / 2, size.height / 2];
  middle.current = [left + (at[0] ?? 0) - (width + RULER) / 2, top + (at[1] ?? 0) - (height + RULER) / 2];
  const walkTo = walk ? selected : undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a change of view, or a step of a walk, moves the sheet
  useLayoutEffect(() => {
    scroller.current?.scrollTo(...middle.current);
  }, [view, walkTo, width > 0]);

  return (
    <div className={css.area} ref={ref}>
      <div
        className={css.scroller}
        ref={scroller}
        onScroll={(event) => setOffset([event.currentTarget.scrollLeft, event.currentTarget.scrollTop])}
      >
        <div
          className={css.ground}
          style={{
            width: Math.max(width, size.width + left + aside),
            height: Math.max(height, size.height + top + aside),
          }}
          onPointerDown={(event) =>
            event.target === event.currentTarget && set({ selected: undefined, hand: undefined })
          }
        >
          <div className={css.sheet} style={{ left, top, ...size }} data-testid="sheet">
            <img
              className={css.picture}
              src={preview?.picture ?? shown}
              alt={`${page.name} as it will print`}
              draggable={false}
            />
            <DraftPhoto state={state} screenFromPage={screenFromPage} />
            <Overlay
              state={state}
              page={page}
              rows={rows}
              texts={texts}
              screenFromPage={screenFromPage}
              scale={scale}
              size={size}
              guides={guides}
              selected={selected}
              hand={hand}
            />
          </div>
        </div>
      </div>
      <div className={css.corner}>{unit}</div>
      <div className={css.across}>
        <Ruler
          length={Math.max(0, width - RULER)}
          start={left - RULER + bleed * scale - offset[0]}
          scale={scale}
          unit={unit}
        />
      </div>
      <div className={css.down}>
        <Ruler
          upright
          length={Math.max(0, height - RULER)}
          start={top - RULER + bleed * scale - offset[1]}
          scale={scale}
          unit={unit}
        />
      </div>
    </div>
  );
}
