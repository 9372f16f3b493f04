import { useElementSize, useWindowEvent } from "@mantine/hooks";
import {
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import { heldView } from "../editing/store";
import { apply, boundsOf, type Matrix, type Point } from "../geometry/placing";
import { isTyping } from "../ui/keys";
import { UNITS, type Unit } from "../ui/units";
import { t } from "../words";
import { Ruler } from "./Rulers";
import css from "./stage.module.css";
import { useTwoFingers } from "./useTwoFingers";

const RULER = 22;
const PAD = 26;
/** What lies over the stage's foot, px: a sheet that fits ends above it. */
const FOOT = 46;

/**
 * Shows a picture and keeps the old one until the new one is ready; a late one never comes over a newer. There is none as
 * long as nobody knows how large it is to be.
 */
function usePicture(source: string | undefined): string | undefined {
  const [known, setShown] = useState(source);
  const shown = known ?? source;
  useEffect(() => {
    if (!source) return;
    setShown((known) => known ?? source);
    if (source === shown) return;
    let current = true;
    const image = new Image();
    image.fetchPriority = "high";
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

/** Moves what is scrolled with the middle button, or with any while the space bar is held. */
function usePan(scroller: RefObject<HTMLDivElement | null>) {
  const space = useRef(false);
  const from = useRef<Point>(undefined);
  const [held, setHeld] = useState<"ready" | "pulling">();
  const press = (event: KeyboardEvent) => {
    if (event.key !== " " || event.defaultPrevented || isTyping(event.target)) return;
    if (event.target instanceof Element && event.target.closest("button, a, input, [role=tab]")) return;
    event.preventDefault(); // the page does not scroll
    if (event.type === "keydown" && !event.repeat) setHeld("ready");
    if (event.type === "keyup") setHeld(undefined);
    space.current = event.type === "keydown";
  };
  useWindowEvent("keydown", press);
  useWindowEvent("keyup", press);
  return {
    "data-pan": held,
    onPointerDownCapture: (event: PointerEvent<HTMLDivElement>) => {
      if (event.button !== 1 && !(space.current && event.button === 0)) return;
      event.preventDefault();
      event.stopPropagation();
      from.current = [event.clientX, event.clientY];
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld("pulling");
    },
    onPointerMove: (event: PointerEvent<HTMLDivElement>) => {
      if (!from.current) return;
      scroller.current?.scrollBy(from.current[0] - event.clientX, from.current[1] - event.clientY);
      from.current = [event.clientX, event.clientY];
    },
    onPointerUp: () => {
      if (!from.current) return;
      from.current = undefined;
      setHeld(space.current ? "ready" : undefined);
    },
  };
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
  onView: (view: number) => void;
  /** Told how many screen px a millimetre has when all of the sheet fits. */
  onFit?: (scale: number) => void;
  /** The place that stays in the middle when the view changes, page mm; `close` fills the room with it. */
  focus?: readonly Point[];
  focusName?: string;
  close?: boolean;
  /** Upside down on the screen: a panel that lies so on its sheet is read upright. */
  turned?: boolean;
  onGround: () => void;
  /** A pull out of a ruler, for a guide across the page: out of the left one for one that stands (x). */
  onRuler?: Record<"down" | "move" | "up", (event: PointerEvent, axis: "x" | "y") => void>;
  onShown?: (picture: string) => void;
  children: (seen: Seen) => ReactNode;
}

const pulledOut = (hold: Props["onRuler"], axis: "x" | "y") =>
  hold && {
    "data-pulls": axis,
    onPointerDown: (event: PointerEvent<HTMLDivElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      hold.down(event, axis);
    },
    onPointerMove: (event: PointerEvent) => hold.move(event, axis),
    onPointerUp: (event: PointerEvent) => hold.up(event, axis),
  };

/** A sheet with its rulers, in its view; what lies over it and can be worked on is the children's. */
export function Stage(props: Props) {
  const { sheet, picture, alt, unit, onUnit, view, onView, onFit, focus, focusName, close, turned, onGround, onRuler, onShown, children } =
    props; // biome-ignore format: a list
  const { ref, width, height } = useElementSize();
  const bleed = sheet.bleed_mm ?? 3;
  const wide = sheet.width_mm + 2 * bleed;
  const high = sheet.height_mm + 2 * bleed;
  const fit = Math.max(
    0.05,
    Math.min((width - RULER - 2 * PAD) / wide, (height - RULER - PAD - FOOT) / high),
  );
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
  const shown = usePicture(
    width > 0 ? picture(Math.min(4000, Math.max(200, Math.round(size.width * density)))) : undefined,
  );
  useEffect(() => {
    if (shown) onShown?.(shown);
  }, [shown, onShown]);

  // Room enough around the sheet that any opening can stand in the middle when it is close.
  const aside = near ? Math.max(width, height) / 2 : PAD;
  const below = Math.max(aside, FOOT);
  const left = Math.max(RULER + aside, (width - size.width + RULER) / 2);
  const top = Math.max(
    RULER + aside,
    Math.min((height - size.height + RULER) / 2, height - size.height - below),
  );
  const screenFromPage: Matrix = [scale, 0, bleed * scale, 0, scale, bleed * scale, 0, 0, 1];
  const scroller = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState<Point>([0, 0]);

  // A larger view keeps what is selected, or else the middle of the sheet, in the middle.
  const middle = useRef<Point>([0, 0]);
  const straight = box
    ? apply(screenFromPage, [(box.left + box.right) / 2, (box.top + box.bottom) / 2])
    : [size.width / 2, size.height / 2];
  const corner = turned ? [size.width - (straight[0] ?? 0), size.height - (straight[1] ?? 0)] : straight;
  middle.current = [
    left + (corner[0] ?? 0) - (width + RULER) / 2,
    top + (corner[1] ?? 0) - (height + RULER) / 2,
  ];
  const closeTo = close ? focusName : undefined;
  useEffect(() => onFit?.(fit), [fit, onFit]);

  // What lies under the pointer stays there when the wheel changes the view.
  const anchor = useRef<{ page: Point; at: Point }>(undefined);
  const now = useRef({ view, onView, left, top, scale, close });
  now.current = { view, onView, left, top, scale, close };
  useEffect(() => {
    const box = scroller.current;
    const wheel = (event: WheelEvent) => {
      const { view, onView, left, top, scale, close } = now.current;
      if (!box || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault(); // or the browser would enlarge everything
      if (close) return;
      const frame = box.getBoundingClientRect();
      const pointer: Point = [event.clientX - frame.left, event.clientY - frame.top];
      const page: Point = [
        (pointer[0] + box.scrollLeft - left) / scale,
        (pointer[1] + box.scrollTop - top) / scale,
      ];
      anchor.current = { page, at: pointer };
      onView(view * Math.exp(-event.deltaY / 400));
    };
    box?.addEventListener("wheel", wheel, { passive: false });
    return () => box?.removeEventListener("wheel", wheel);
  }, []);
  const pan = usePan(scroller);
  const pinched = useRef<{ page: Point; view: number }>(undefined);
  const fingers = useTwoFingers(scroller, {
    began: (point) => {
      const { view, left, top, scale } = now.current;
      const box = scroller.current;
      pinched.current = {
        page: [
          (point[0] + (box?.scrollLeft ?? 0) - left) / scale,
          (point[1] + (box?.scrollTop ?? 0) - top) / scale,
        ],
        view,
      };
    },
    moved: (point, spread) => {
      const { view, onView, left, top, scale, close } = now.current;
      const from = pinched.current;
      if (!from) return;
      scroller.current?.scrollTo(
        from.page[0] * scale + left - point[0],
        from.page[1] * scale + top - point[1],
      );
      const next = close ? view : heldView(from.view * spread);
      if (next === view) return;
      anchor.current = { page: from.page, at: point };
      onView(next);
    },
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a change of view, or another focus up close, moves the sheet
  useLayoutEffect(() => {
    const held = anchor.current;
    anchor.current = undefined;
    if (held)
      scroller.current?.scrollTo(
        held.page[0] * scale + left - held.at[0],
        held.page[1] * scale + top - held.at[1],
      );
    else scroller.current?.scrollTo(...middle.current);
  }, [view, closeTo, turned, width > 0]);

  const next = UNITS[(UNITS.indexOf(unit) + 1) % UNITS.length] ?? "mm";
  return (
    <div className={css.area} ref={ref} data-stage>
      <div
        className={css.scroller}
        ref={scroller}
        {...pan}
        {...fingers}
        onPointerDownCapture={(event) => {
          pan.onPointerDownCapture(event);
          fingers.onPointerDownCapture(event);
        }}
        onScroll={(event) => setOffset([event.currentTarget.scrollLeft, event.currentTarget.scrollTop])}
      >
        <div
          className={css.ground}
          style={{
            width: Math.max(width, size.width + left + aside),
            height: Math.max(height, size.height + top + below),
          }}
          onPointerDown={(event) => event.target === event.currentTarget && onGround()}
        >
          <div
            className={css.sheet}
            style={{ left, top, ...size }}
            data-testid="sheet"
            data-turned={turned || undefined}
          >
            <img className={css.picture} src={shown} alt={alt} draggable={false} fetchPriority="high" />
            {width > 0 && children({ screenFromPage, scale, size })}
          </div>
        </div>
      </div>
      <button
        type="button"
        className={css.corner}
        title={t("Lengths in {unit}. Click for {next}.", { unit, next })}
        aria-label={t("Lengths in {unit}", { unit })}
        onClick={() => onUnit(next)}
      >
        {unit}
      </button>
      <div className={css.across} {...pulledOut(onRuler, "y")}>
        <Ruler
          length={Math.max(0, width - RULER)}
          start={left - RULER + (turned ? size.width - bleed * scale : bleed * scale) - offset[0]}
          scale={scale}
          back={turned}
          unit={unit}
        />
      </div>
      <div className={css.down} {...pulledOut(onRuler, "x")}>
        <Ruler
          upright
          length={Math.max(0, height - RULER)}
          start={top - RULER + (turned ? size.height - bleed * scale : bleed * scale) - offset[1]}
          scale={scale}
          back={turned}
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
  sheet: Props["sheet"] & {
    safe_mm?: number;
    lines?: { axis: "x" | "y"; at_mm: number }[];
    holes?: { at: unknown; diameter_mm?: number }[];
  };
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
      {(sheet.holes ?? []).map(({ at, diameter_mm = 6 }) => {
        const [x = 0, y = 0] = at as number[];
        return (
          <circle
            key={`${x} ${y}`}
            cx={(bleed + x) * scale}
            cy={(bleed + y) * scale}
            r={(diameter_mm / 2) * scale}
            className={css.trim}
          />
        );
      })}
    </g>
  );
}
