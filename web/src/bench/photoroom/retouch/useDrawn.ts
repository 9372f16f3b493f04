/** What is drawn on the photo, by the pointer or by keys, until it is kept. */
import { type PointerEvent, type RefObject, useRef, useState } from "react";
import type { Point } from "../../../geometry/placing";
import { follow } from "../../../ui/follow";
import { sourceFor, useBrush } from "./brush";
import type { Drawing } from "./painting";
import { longer, type Seen, toPhoto } from "./seen";

export function useDrawn({
  photo,
  seen,
  setSeen,
  view,
  keep,
  grey,
}: {
  photo: { width: number; height: number };
  seen: Seen;
  setSeen: (seen: Seen) => void;
  view: RefObject<HTMLDivElement | null>;
  keep: (what: Drawing) => void;
  grey: (point: Point) => void;
}) {
  const { set } = useBrush();
  const [drawing, setDrawing] = useState<Drawing>();
  const [pointer, setPointer] = useState<Point>();
  const [panning, setPanning] = useState(false);
  /** Whether the photo is to be moved about by what is pulled next. */
  const space = useRef(false);
  const last = useRef<Point>(undefined);

  const here = (event: { clientX: number; clientY: number }): Point => {
    const edge = view.current?.getBoundingClientRect();
    return [event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0)];
  };
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

  /** What a click does before anything is drawn: a grey is picked, a source chosen, or asked for. Whether it did. */
  const instead = (point: Point, choosing: boolean) => {
    const { tool, source } = useBrush.getState();
    if (tool === "pick") {
      set({ tool: "heal" });
      grey(point);
    } else if (choosing) choose(point);
    else if (tool === "clone" && !source) set({ choosing: true });
    else return false;
    return true;
  };

  const pan = (event: PointerEvent<HTMLDivElement>) => {
    event.preventDefault();
    setPanning(true);
    const from = here(event);
    follow(
      event,
      (next) => {
        const to = here(next);
        setSeen({ ...seen, x: seen.x + to[0] - from[0], y: seen.y + to[1] - from[1] });
      },
      () => setPanning(false),
    );
  };

  const begin = (event: PointerEvent<HTMLDivElement>) => {
    const point = toPhoto(seen, here(event));
    event.currentTarget.focus({ preventScroll: true });
    if (event.button === 1 || (event.button === 0 && space.current)) {
      pan(event);
      return;
    }
    const brush = useBrush.getState();
    if (event.button !== 0 || instead(point, brush.choosing || event.ctrlKey || event.metaKey)) return;
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
        const each = next.getCoalescedEvents?.() ?? [];
        for (const one of each.length ? each : [next]) {
          what.points.push(toPhoto(seen, here(one)));
          what.pressed.push(press(one));
        }
        setPointer(what.points.at(-1));
        setDrawing({ ...what });
      },
      () => finish(what),
      () => setDrawing(undefined),
    );
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

  /** What a key does with the tool in hand; `last` closes an outline. */
  const setDown = (point: Point, last: boolean) => {
    const { choosing, tool, shape, radius } = useBrush.getState();
    if (instead(point, choosing)) return;
    if (shape === "outlined" && tool !== "eye") {
      corner(point, last);
      return;
    }
    // An ellipse is set down some brushes wide, a grade a third of the photo long.
    const size = radius * longer(photo);
    const far: Record<string, Point> = { round: [8 * size, 6 * size], graded: [0, photo.height / 3] };
    const end = far[tool === "area" ? shape : ""];
    const points: Point[] = end ? [point, [point[0] + end[0], point[1] + end[1]]] : [point];
    finish({ points, pressed: points.map(() => 1), source: sourceAt(point) });
  };

  return {
    drawing,
    pointer,
    panning,
    space,
    begin,
    setDown,
    drop: () => setDrawing(undefined),
    point: (to: Point | undefined) => setPointer(to),
    hover: (event: PointerEvent) => !drawing && setPointer(toPhoto(seen, here(event))),
    here,
  };
}
