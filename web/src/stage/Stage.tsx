import { useElementSize } from "@mantine/hooks";
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { apply, boundsOf, type Matrix, type Point } from "../geometry/placing";
import { UNITS, type Unit } from "../ui/units";
import { Ruler } from "./Rulers";
import css from "./stage.module.css";

const RULER = 22;
const PAD = 26;

/** Shows a picture and keeps the old one until the new one is ready; a late one never comes over a newer. */
function usePicture(source: string): string {
  const [shown, setShown] = useState(source);
  useEffect(() => {
    if (source === shown) return;
    let current = true;
    const image = new Image();
    image.src = source;
    const show = () => current && setShown(source);
    // One that cannot be had is asked for again when the sheet is; the old one stays till then.
    image.decode().then(show, () => setTimeout(show, 1000));
    return () => {
      current = false;
    };
  }, [source, shown]);
  return shown;
}

/** The sheet as it lies on the screen. */
export interface Seen {
  screenFromPage: Matrix;
  /** Screen px a millimetre. */
  scale: number;
  size: { width: number; height: number };
}

interface Props {
  sheet: { width_mm: number; height_mm: number; bleed_mm?: number };
  /** The picture's address for a width in px. */
  picture: (width: number) => string;
  alt: string;
  unit: Unit;
  onUnit: (unit: Unit) => void;
  /** How many times as large as fits. */
  view: number;
  /** Room around the sheet to work in, a share of the room there is. */
  room?: number;
  /** The place that stays in the middle when the view changes, page mm; `close` fills the room with it. */
  focus?: readonly Point[];
  focusName?: string;
  close?: boolean;
  onGround: () => void;
  onShown?: (picture: string) => void;
  children: (seen: Seen) => ReactNode;
}

/** A sheet with its rulers, in its view; what lies over it and can be worked on is the children's. */
export function Stage(props: Props) {
  const { sheet, picture, alt, unit, onUnit, view, room = 0, focus, focusName, close, onGround, onShown, children } =
    props; // biome-ignore format: a list
  const { ref, width, height } = useElementSize();
  const bleed = sheet.bleed_mm ?? 3;
  const wide = sheet.width_mm + 2 * bleed;
  const high = sheet.height_mm + 2 * bleed;
  const pad = Math.max(PAD, Math.min(width, height) * room);
  const fit = Math.max(0.05, Math.min((width - RULER - 2 * pad) / wide, (height - RULER - 2 * pad) / high));
  const box = focus && boundsOf(focus);
  const near = close ? box : undefined;
  const scale = near
    ? Math.min(
        (0.72 * (width - RULER)) / (near.right - near.left),
        (0.72 * (height - RULER)) / (near.bottom - near.top),
        12,
      )
    : fit * view;
  const size = { width: wide * scale, height: high * scale };
  const density = Math.min(2, window.devicePixelRatio || 1);
  const shown = usePicture(picture(Math.min(4000, Math.max(200, Math.round(size.width * density)))));
  useEffect(() => onShown?.(shown), [shown, onShown]);

  // Room enough around the sheet that any opening can stand in the middle when it is close.
  const aside = near ? Math.max(width, height) / 2 : pad;
  const left = Math.max(RULER + aside, (width - size.width + RULER) / 2);
  const top = Math.max(RULER + aside, (height - size.height + RULER) / 2);
  const screenFromPage: Matrix = [scale, 0, bleed * scale, 0, scale, bleed * scale, 0, 0, 1];
  const scroller = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState<Point>([0, 0]);

  // A larger view keeps what is selected, or else the middle of the sheet, in the middle.
  const middle = useRef<Point>([0, 0]);
  const at = box
    ? apply(screenFromPage, [(box.left + box.right) / 2, (box.top + box.bottom) / 2])
    : [size.width / 2, size.height / 2];
  middle.current = [left + (at[0] ?? 0) - (width + RULER) / 2, top + (at[1] ?? 0) - (height + RULER) / 2];
  const closeTo = close ? focusName : undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a change of view, or another focus up close, moves the sheet
  useLayoutEffect(() => {
    scroller.current?.scrollTo(...middle.current);
  }, [view, closeTo, width > 0]);

  const next = UNITS[(UNITS.indexOf(unit) + 1) % UNITS.length] ?? "mm";
  return (
    <div className={css.area} ref={ref} data-stage>
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
          onPointerDown={(event) => event.target === event.currentTarget && onGround()}
        >
          <div className={css.sheet} style={{ left, top, ...size }} data-testid="sheet">
            <img className={css.picture} src={shown} alt={alt} draggable={false} />
            {width > 0 && children({ screenFromPage, scale, size })}
          </div>
        </div>
      </div>
      <button
        type="button"
        className={css.corner}
        title={`Lengths in ${unit}. Click for ${next}.`}
        aria-label={`Lengths in ${unit}`}
        onClick={() => onUnit(next)}
      >
        {unit}
      </button>
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

/** Trim, safe and fold lines of a sheet, drawn finely. */
export function CutLines({
  sheet,
  seen,
}: {
  sheet: Props["sheet"] & { safe_mm?: number; lines?: { axis: "x" | "y"; at_mm: number }[] };
  seen: Seen;
}) {
  const { scale, size } = seen;
  const bleed = sheet.bleed_mm ?? 3;
  const safe = sheet.safe_mm ?? 5;
  const rect = (inset: number) => ({
    x: (bleed + inset) * scale,
    y: (bleed + inset) * scale,
    width: Math.max(0, (sheet.width_mm - 2 * inset) * scale),
    height: Math.max(0, (sheet.height_mm - 2 * inset) * scale),
  });
  return (
    <g className={css.guides}>
      <rect {...rect(0)} className={css.trim} />
      {safe > 0 && <rect {...rect(safe)} className={css.safe} />}
      {(sheet.lines ?? []).map((line) => {
        const p = (bleed + line.at_mm) * scale;
        const ends =
          line.axis === "x"
            ? { x1: p, x2: p, y1: 0, y2: size.height }
            : { y1: p, y2: p, x1: 0, x2: size.width };
        return <line key={`${line.axis}${line.at_mm}`} {...ends} className={css.fold} />;
      })}
    </g>
  );
}
