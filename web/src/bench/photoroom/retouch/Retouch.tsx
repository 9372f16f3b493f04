import {
  type KeyboardEvent,
  type PointerEvent,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type WheelEvent,
} from "react";
import { proxy } from "../../../api/client";
import type { Held } from "../../../editing/fitting";
import { useChange } from "../../../editing/jobs";
import { stepsOf } from "../../../editing/standing";
import type { View } from "../../../editing/view";
import { apply, inverse, openingFromPhoto, type Point, path, shownOf } from "../../../geometry/placing";
import { follow } from "../follow";
import { forPhoto, heldRadius, sourceFor, type Tool, turnedTo, useBrush } from "./brush";
import { Marks } from "./Marks";
import { ahead, type Drawing, onto, wiped } from "./painting";
import { RetouchSide } from "./RetouchSide";
import css from "./retouch.module.css";
import {
  at,
  longer,
  middleOf,
  movedTouch,
  type Seen,
  toPhoto,
  toScreen,
  whence,
  wholly,
  zoomedAt,
} from "./seen";
import { type Ahead, useKeeping } from "./useKeeping";
import { useTiles } from "./useTiles";
import { useTouches } from "./useTouches";
import { Wiper } from "./Wiper";

const TOOL_KEYS: Record<string, Tool> = {
  c: "clone",
  h: "heal",
  f: "fill",
  e: "eye",
  a: "area",
  u: "subject",
};
const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

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
  const [drawing, setDrawing] = useState<Drawing>();
  const [pointer, setPointer] = useState<Point>();
  const [panning, setPanning] = useState(false);
  const space = useRef(false);
  const last = useRef<Point>(undefined);
  const view = useRef<HTMLDivElement>(null);
  const under = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const steps = stepsOf(state, photo, now.row.opening).filter((step) => step.on !== false);
  const after = useTiles(photo, proxy(photo), touches.query(steps), seen, room);
  const shown = brush.before || brush.wiper !== undefined;
  const before = useTiles(photo, proxy(photo), shown ? touches.bare : touches.query(steps), seen, room);
  // Drawn by the browser until the photo as it is then is on the screen.
  const [kept, setKept] = useState<Ahead>();
  const query = touches.query(steps);
  useEffect(forPhoto, []);
  useEffect(() => {
    if (kept && after.settled && query !== kept.query) setKept(undefined);
  }, [kept, after.settled, query]);
  useEffect(() => setSeen(wholly(photo, room)), [photo, room]);

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
    const what =
      drawing ?? kept?.drawing ?? (hover ? { points: [pointer], pressed: [1], source: hover } : undefined);
    if (!what || brush.shape === "round" || brush.shape === "graded") return;
    const { soft, strength } = brush;
    const outlined = brush.shape === "outlined" && what.points.length > 1;
    ahead(top, seen, dots, what, { outlined, radius, soft, strength }, after.draw);
  });

  const here = (event: { clientX: number; clientY: number }): Point => {
    const edge = view.current?.getBoundingClientRect();
    return [event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0)];
  };
  const { keep, grey } = useKeeping({ state, now, scope, touches, seen, query, setKept });
  const finish = (what: Drawing) => {
    setDrawing(undefined);
    last.current = what.points.at(-1) ?? last.current;
    keep(what);
  };

  // What it covers is told by where the first stroke begins.
  const choose = (point: Point) => set({ choosing: false, source: { from: point } });

  /** Where the source lies for a stroke that begins at a point; with the first, where it moves along from. */
  const sourceAt = (point: Point) => {
    const { tool, along, source } = useBrush.getState();
    if (!source || (tool !== "clone" && tool !== "heal")) return undefined;
    if (along && !source.at) set({ source: { ...source, at: point } });
    return sourceFor(useBrush.getState(), point);
  };

  /** One more corner of an outline that is drawn by keys; at its first corner again, or with `last`, it is closed. */
  const corner = (point: Point, last: boolean) => {
    const before = drawing?.points ?? [];
    const first = before[0];
    const closed = first && Math.hypot(point[0] - first[0], point[1] - first[1]) * seen.k < 6;
    const points = closed ? before : [...before, point];
    const what: Drawing = {
      points,
      pressed: points.map(() => 1),
      source: drawing?.source ?? sourceAt(point),
    };
    if ((closed || last) && points.length > 2) finish(what);
    else setDrawing(what);
  };

  const begin = (event: PointerEvent<HTMLDivElement>) => {
    const target = event.currentTarget;
    const from = here(event);
    const point = toPhoto(seen, from);
    target.focus({ preventScroll: true });
    if (event.button === 1 || (event.button === 0 && space.current)) {
      event.preventDefault();
      setPanning(true);
      const start = seen;
      follow(
        event,
        (next) => {
          const to = here(next);
          setSeen({ ...start, x: start.x + to[0] - from[0], y: start.y + to[1] - from[1] });
        },
        () => setPanning(false),
      );
      return;
    }
    if (event.button !== 0) return;
    const brush = useBrush.getState();
    if (brush.tool === "pick") {
      set({ tool: "heal" });
      grey(point);
      return;
    }
    if (brush.choosing || event.ctrlKey || event.metaKey) {
      choose(point);
      return;
    }
    if (brush.tool === "clone" && !brush.source) {
      set({ choosing: true });
      return;
    }
    const more = brush.tool === "subject" && brush.cutting !== "anew";
    if (brush.selected && !more) set({ selected: undefined });
    const source = sourceAt(point);
    const straight = event.shiftKey && last.current && brush.shape === "stroke" ? [last.current] : [];
    const press = (e: { pointerType: string; pressure: number }) =>
      e.pointerType === "pen" ? e.pressure || 0.1 : 1;
    const what: Drawing = {
      points: [...straight, point],
      pressed: [...straight.map(() => 1), press(event)],
      source,
    };
    setDrawing({ ...what });
    follow(
      event,
      (next) => {
        for (const each of next.getCoalescedEvents?.() ?? [next]) {
          what.points.push(toPhoto(seen, here(each)));
          what.pressed.push(press(each));
        }
        if (!(next.getCoalescedEvents?.().length ?? 1)) what.points.push(toPhoto(seen, here(next)));
        setPointer(what.points.at(-1));
        setDrawing({ ...what });
      },
      () => finish(what),
    );
  };
  const wheel = (event: WheelEvent) =>
    setSeen(zoomedAt(seen, 1.0015 ** -event.deltaY, here(event), photo, room));
  const close = (k: number) =>
    setSeen(
      at(
        k / window.devicePixelRatio,
        pointer ?? toPhoto(seen, [room.width / 2, room.height / 2]),
        pointer ? toScreen(seen, pointer) : [room.width / 2, room.height / 2],
      ),
    );
  const printPx = (now.row.ppi ?? 300) / 96;

  const key = (event: KeyboardEvent) => {
    const brush = useBrush.getState();
    const { key: name, shiftKey, ctrlKey, metaKey, altKey } = event;
    const done = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    // What is typed into takes all keys; a choice, a tick and a button only those that work it.
    const target = event.target as HTMLElement;
    if (target.closest("input:not([type=radio], [type=checkbox]), [role=slider], textarea")) return;
    if (ctrlKey || metaKey) {
      const low = name.toLowerCase();
      if (low === "z" || low === "y") {
        if (low === "y" || shiftKey) redo();
        else undo();
        done();
      }
      return;
    }
    const selected = touches.mine.find(({ id }) => id === brush.selected);
    if (altKey) {
      const way = WAYS[name];
      const by = (shiftKey ? 40 : 4) / seen.k;
      const next = way && movedTouch(selected, [way[0] * by, way[1] * by], photo);
      if (next) {
        touches.change(next.id, next);
        done();
      }
      return;
    }
    const centre: Point = pointer ?? toPhoto(seen, [room.width / 2, room.height / 2]);
    const tool = TOOL_KEYS[name.toLowerCase()];
    const way = WAYS[name];
    if (name === " " && target === view.current) {
      space.current = true;
      done();
    } else if (tool) {
      set(turnedTo(tool, brush));
      done();
    } else if (name === "[" || name === "]" || name === "{" || name === "}") {
      const more = name === "]" || name === "}";
      if (shiftKey || name === "{" || name === "}")
        set({ soft: Math.round(Math.min(1, Math.max(0, brush.soft + (more ? 0.1 : -0.1))) * 10) / 10 });
      else set({ radius: heldRadius(brush.radius * (more ? 1.2 : 1 / 1.2)) });
      done();
    } else if (/^[0-9]$/.test(name)) {
      set({ strength: name === "0" ? 100 : Number(name) * 10 });
      done();
    } else if (name.toLowerCase() === "s") {
      set({ choosing: true });
      done();
    } else if (name.toLowerCase() === "b") {
      set({ before: !brush.before });
      done();
    } else if (name.toLowerCase() === "w") {
      set({ wiper: brush.wiper === undefined ? 0.5 : undefined });
      done();
    } else if (name === "+" || name === "=" || name === "-") {
      setSeen(zoomedAt(seen, name === "-" ? 1 / 1.5 : 1.5, [room.width / 2, room.height / 2], photo, room));
      done();
    } else if (name === "Home") {
      setSeen(wholly(photo, room));
      done();
    } else if (name === "End") {
      close(1);
      done();
    } else if (name.toLowerCase() === "p") {
      close(window.devicePixelRatio / printPx);
      done();
    } else if (way && event.target === view.current) {
      const by = (shiftKey ? 40 : 8) / seen.k;
      setPointer([centre[0] + way[0] * by, centre[1] + way[1] * by]);
      done();
    } else if (name === "Enter" && event.target === view.current) {
      if (brush.choosing) choose(centre);
      else if (brush.tool === "pick") grey(centre);
      else if (brush.tool === "clone" && !brush.source) set({ choosing: true });
      else if (brush.shape === "outlined" && brush.tool !== "eye") corner(centre, shiftKey);
      else {
        // An ellipse is set down some brushes wide, a grade a third of the photo long.
        const far: Record<string, Point> = { round: [8 * radius, 6 * radius], graded: [0, photo.height / 3] };
        const [dx, dy] = far[brush.tool === "area" ? brush.shape : ""] ?? [];
        const ends: Point[] =
          dx === undefined || dy === undefined ? [centre] : [centre, [centre[0] + dx, centre[1] + dy]];
        finish({ points: ends, pressed: ends.map(() => 1), source: sourceAt(centre) });
      }
      done();
    } else if ((name === "Delete" || name === "Backspace") && brush.selected) {
      touches.remove([brush.selected]);
      set({ selected: undefined });
      done();
    } else if (name === "Escape") {
      // What was begun ends first, then the room is left.
      if (drawing) setDrawing(undefined);
      else if (!brush.choosing && !brush.selected && !brush.proposed && brush.tool !== "pick") onLeave();
      set({
        choosing: false,
        selected: undefined,
        proposed: undefined,
        tool: brush.tool === "pick" ? "heal" : brush.tool,
      });
      done();
    }
  };
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
        if (event.key === " ") space.current = false;
      }}
    >
      <div
        ref={view}
        className={css.view}
        style={{ width: room.width, height: room.height }}
        data-tool={brush.choosing ? "choosing" : brush.tool}
        data-panning={panning || undefined}
        data-settled={(after.settled && !kept) || undefined}
        data-testid="retouch-view"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the photo is retouched by keys here, as by the pointer
        tabIndex={0}
        data-autofocus
        role="group"
        aria-label={`${photo.name}: arrows move the brush, Enter sets it down or a corner of an outline, which Shift Enter closes, plus and minus come closer, brackets change its size`}
        onPointerDown={begin}
        onPointerMove={(event) => !drawing && setPointer(toPhoto(seen, here(event)))}
        onPointerLeave={() => setPointer(undefined)}
        onWheel={wheel}
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
          <title>What is marked on the photo</title>
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
          photo: () => view.current?.focus({ preventScroll: true }),
          whole: () => setSeen(wholly(photo, room)),
          pixels: () => close(1),
          print: () => close(window.devicePixelRatio / printPx),
          touch: (touch) => {
            const middle = middleOf(touch, photo);
            const ends = touch.kind === "cover" ? [middle, moved(middle, touch.shift ?? [0, 0])] : [middle];
            if (ends.every((point) => inView(point))) return;
            setSeen(at(Math.max(seen.k, 0.5 / dots), middle, [room.width / 2, room.height / 2]));
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
