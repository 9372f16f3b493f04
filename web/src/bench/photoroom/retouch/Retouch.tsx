import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { proxy } from "../../../api/client";
import { useChange } from "../../../editing/changes";
import type { Held } from "../../../editing/fitting";
import { stepsOf } from "../../../editing/standing";
import type { View } from "../../../editing/view";
import { apply, inverse, openingFromPhoto, type Point, path, shownOf } from "../../../geometry/placing";
import { useTwoFingers } from "../../../stage/useTwoFingers";
import { useKeysBack } from "../../../ui/useKeysBack";
import { t } from "../../../words";
import { forPhoto, sourceFor, type Tool, useBrush } from "./brush";
import { Marks } from "./Marks";
import { ahead, onto, wiped } from "./painting";
import { RetouchSide } from "./RetouchSide";
import css from "./retouch.module.css";
import { at, longer, middleOf, type Seen, toPhoto, toScreen, whence, wholly, zoomedAt } from "./seen";
import { useDrawn } from "./useDrawn";
import { type Ahead, useKeeping } from "./useKeeping";
import { useRetouchKeys } from "./useRetouchKeys";
import { useTiles } from "./useTiles";
import { useTouches } from "./useTouches";
import { Wiper } from "./Wiper";

/** A photo large, to be retouched: the photo, what is drawn on it, and beside it tools and the list of what was done. */
export function Retouch({
  state,
  now,
  room,
  top,
  onLeave,
}: {
  state: View;
  now: Held;
  room: { width: number; height: number };
  top: React.ReactNode;
  onLeave: () => void;
}) {
  const { photo } = now;
  const { undo, redo } = useChange(state);
  const [scope, setScope] = useState<"photo" | "opening">("photo");
  const touches = useTouches(state, now, scope);
  const brush = useBrush();
  const { set } = brush;
  const [seen, setSeen] = useState<Seen>(() => wholly(photo, room));
  const view = useRef<HTMLDivElement>(null);
  useKeysBack(view);
  const under = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const steps = stepsOf(state, photo, now.row.opening).filter((step) => step.on !== false);
  const after = useTiles(photo, proxy(photo), touches.query(steps), seen, room);
  const shown = brush.before || brush.wiper !== undefined;
  const before = useTiles(photo, proxy(photo), shown ? touches.bare : touches.query(steps), seen, room);
  // Drawn by the browser until the photo is on the screen with it, or it is not to come any more.
  const [held, setKept] = useState<Ahead[]>([]);
  const waiting = held.filter(({ id }) => touches.expects(id) && !(after.settled && touches.has(id)));
  useEffect(() => {
    if (waiting.length < held.length) setKept(waiting);
  });
  useEffect(forPhoto, []);
  useEffect(() => setSeen(wholly(photo, room)), [photo, room]);
  const { keep, grey } = useKeeping({ photo, touches, seen, setKept });
  const drawn = useDrawn({ photo, seen, setSeen, view, keep, grey });
  const { drawing, pointer, panning } = drawn;

  const radius = brush.radius * longer(photo);
  useLayoutEffect(() => {
    const dots = window.devicePixelRatio;
    const base = under.current?.getContext("2d");
    const top = over.current?.getContext("2d");
    if (!base || !top) return;
    wiped(base);
    wiped(top);
    base.imageSmoothingEnabled = seen.k * dots < 4;
    onto(base, seen, dots);
    (brush.before ? before : after).draw(base);
    if (brush.wiper !== undefined && !brush.before) {
      base.save();
      base.setTransform(1, 0, 0, 1, 0, 0);
      base.beginPath();
      base.rect(0, 0, brush.wiper * room.width * dots, room.height * dots);
      base.clip();
      onto(base, seen, dots);
      before.draw(base);
      base.restore();
    }
    const hover = pointer && brush.tool === "clone" && !brush.choosing && sourceFor(brush, pointer);
    const { soft, strength, shape } = brush;
    const what = drawing ?? (hover ? { points: [pointer], pressed: [1], source: hover } : undefined);
    const drawn = waiting.map(({ drawing, brush }) => ({ drawing, brush }));
    if (what && shape !== "round" && shape !== "graded") {
      const outlined = shape === "outlined" && what.points.length > 1;
      drawn.push({ drawing: what, brush: { outlined, radius, soft, strength } });
    }
    for (const { drawing, brush } of drawn) ahead(top, seen, dots, drawing, brush, after.draw);
  });

  const middle: Point = [room.width / 2, room.height / 2];
  const centre = pointer ?? toPhoto(seen, middle);
  const close = (k: number) =>
    setSeen(at(k / window.devicePixelRatio, centre, pointer ? toScreen(seen, pointer) : middle));
  const see = {
    whole: () => setSeen(wholly(photo, room)),
    pixels: () => close(1),
    print: () => close((window.devicePixelRatio * 96) / (now.row.ppi ?? 300)),
    zoom: (by: number, about = middle) => setSeen(zoomedAt(seen, by, about, photo, room)),
  };
  const pinched = useRef(seen);
  const fingers = useTwoFingers(
    view,
    {
      began: (about) => {
        pinched.current = at(seen.k, toPhoto(seen, about), [0, 0]);
      },
      moved: (about, spread) => {
        const { k, x, y } = pinched.current;
        const under: Point = [-x / k, -y / k];
        setSeen(zoomedAt(at(k, under, about), spread, about, photo, room));
      },
    },
    "*",
  );
  const key = useRetouchKeys({ photo, seen, centre, view, drawn, touches, see, undo, redo, onLeave });
  const frame = (() => {
    const back = inverse(openingFromPhoto(now.outline, photo, now.lying));
    return path(shownOf(now.outline, now.lying).map((point) => toScreen(seen, apply(back, point))));
  })();
  /** As far down as the selected subject stands free of its opening. */
  const foot = (() => {
    const touch = touches.mine.find(({ id }) => id === brush.selected);
    if (touch?.kind !== "free") return "";
    const back = inverse(openingFromPhoto(now.outline, photo, now.lying));
    const [xs, ys] = [now.outline.map(([x]) => x), now.outline.map(([, y]) => y)];
    const [top, bottom] = [Math.min(...ys), Math.max(...ys)];
    const down = top + (touch.down ?? 0.5) * (bottom - top);
    const ends: Point[] = [
      [Math.min(...xs), down],
      [Math.max(...xs), down],
    ];
    return path(ends.map((point) => toScreen(seen, apply(back, point))));
  })();
  const moved = ([x, y]: Point, by: number[]): Point => [
    x + (by[0] ?? 0) * photo.width,
    y + (by[1] ?? 0) * photo.height,
  ];
  const inView = (point: Point) => {
    const [x, y] = toScreen(seen, point);
    return x > 20 && y > 20 && x < room.width - 20 && y < room.height - 20;
  };
  const ring = pointer && toScreen(seen, pointer);
  const dots = window.devicePixelRatio;
  const source =
    pointer && brush.source && (brush.source.at || !brush.along) ? sourceFor(brush, pointer) : undefined;
  const from =
    source && pointer
      ? toScreen(seen, whence(source, pointer))
      : brush.source && toScreen(seen, brush.source.from);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of the whole room, as in the rest of the bench
    <div
      className={css.room}
      style={{ height: room.height }}
      onKeyDown={key}
      onKeyUp={(event) => {
        if (event.key === " ") drawn.space.current = false;
      }}
    >
      <div
        ref={view}
        className={css.view}
        style={{ width: room.width, height: room.height }}
        data-tool={brush.choosing ? "choosing" : brush.tool}
        data-panning={panning || undefined}
        data-settled={(after.settled && !waiting.length) || undefined}
        data-testid="retouch-view"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the photo is retouched by keys here, as by the pointer
        tabIndex={0}
        data-autofocus
        role="group"
        aria-label={t(
          "{name}: arrows move the brush, Enter sets it down or a corner of an outline, which Shift Enter closes, plus and minus come closer, brackets change its size",
          { name: photo.name },
        )}
        {...fingers}
        onPointerDown={drawn.begin}
        onPointerMove={drawn.hover}
        onPointerLeave={() => drawn.point(undefined)}
        onWheel={(event) => see.zoom(1.0015 ** -event.deltaY, drawn.here(event))}
        onDoubleClick={(event) => event.preventDefault()}
      >
        <canvas
          ref={under}
          width={room.width * dots}
          height={room.height * dots}
          style={{ width: room.width, height: room.height }}
        />
        <canvas
          ref={over}
          width={room.width * dots}
          height={room.height * dots}
          style={{ width: room.width, height: room.height }}
        />
        <svg width={room.width} height={room.height} className={css.marks}>
          <title>{t("What is marked on the photo")}</title>
          <path d={frame} className={css.frame} />
          {foot && <path d={foot} className={css.frame} data-testid="free-down-to" />}
          <Marks
            photo={photo}
            seen={seen}
            touches={touches.mine}
            onMove={(touch) => touches.change(touch.id, touch)}
          />
          {drawing && (brush.shape === "outlined" || brush.tool === "area") && (
            <path
              d={`M${drawing.points.map((point) => toScreen(seen, point)).join("L")}`}
              className={css.drawn}
            />
          )}
          {ring && !panning && (
            <>
              <circle
                cx={ring[0]}
                cy={ring[1]}
                r={ringOf(brush.tool, brush.shape, radius * seen.k)}
                className={css.light}
              />
              <circle
                cx={ring[0]}
                cy={ring[1]}
                r={ringOf(brush.tool, brush.shape, radius * seen.k)}
                className={css.dark}
              />
            </>
          )}
          {from && (brush.tool === "clone" || brush.tool === "heal") && (
            <path
              d={`M${from[0] - 7},${from[1]}h14M${from[0]},${from[1] - 7}v14`}
              className={css.source}
              data-testid="source"
            />
          )}
          {brush.wiper !== undefined && (
            <Wiper at={brush.wiper} room={room} onMove={(wiper) => set({ wiper })} />
          )}
        </svg>
      </div>
      <RetouchSide
        now={now}
        top={top}
        scope={scope}
        setScope={setScope}
        touches={touches}
        zoom={seen.k * dots}
        see={{
          ...see,
          photo: () => view.current?.focus({ preventScroll: true }),
          touch: (touch) => {
            const lies = middleOf(touch, photo);
            const ends = touch.kind === "cover" ? [lies, moved(lies, touch.shift ?? [0, 0])] : [lies];
            if (ends.every((point) => inView(point))) return;
            setSeen(at(Math.max(seen.k, 0.5 / dots), lies, middle));
          },
        }}
      />
    </div>
  );
}

const ringOf = (tool: Tool, shape: string, radius: number) =>
  tool === "pick"
    ? 4
    : tool === "eye"
      ? 14
      : shape === "stroke" || shape === "cut"
        ? Math.max(1.5, radius)
        : 3;
