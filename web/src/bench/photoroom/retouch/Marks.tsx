import type { PointerEvent } from "react";
import { useState } from "react";
import type { Touch } from "../../../api/client";
import type { Point } from "../../../geometry/placing";
import { follow } from "../../../ui/follow";
import { t } from "../../../words";
import { useBrush } from "./brush";
import css from "./retouch.module.css";
import { longer, middleOf, movedTouch, placed, type Seen, type Size, toScreen } from "./seen";

/** What is marked on the photo: the touch that is selected, with what of it can be pulled, and what is proposed. */
export function Marks({
  photo,
  seen,
  touches,
  onMove,
}: {
  photo: Size;
  seen: Seen;
  touches: Touch[];
  onMove: (touch: Touch) => void;
}) {
  const { selected, proposed, set } = useBrush();
  const [draft, setDraft] = useState<Touch>();
  const stored = touches.find(({ id }) => id === selected);
  const touch = draft?.id === selected ? draft : stored;
  const pull = (event: PointerEvent<SVGElement>, change: (by: Point) => Touch | undefined) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const from: Point = [event.clientX, event.clientY];
    let next: Touch | undefined;
    follow(
      event,
      (to) => {
        next = change([(to.clientX - from[0]) / seen.k, (to.clientY - from[1]) / seen.k]);
        setDraft(next);
      },
      () => {
        setDraft(undefined);
        if (next) onMove(next);
      },
    );
  };
  return (
    <>
      {proposed?.map((one) => {
        const [x, y] = toScreen(seen, middleOf(one, photo));
        return (
          <g
            key={one.id}
            role="button"
            tabIndex={0}
            aria-label={t("Leave this place as it is")}
            className={css.proposed}
            data-testid="proposed"
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => set({ proposed: proposed.filter(({ id }) => id !== one.id) })}
            onKeyDown={(event) =>
              event.key === "Enter" && set({ proposed: proposed.filter(({ id }) => id !== one.id) })
            }
          >
            <circle cx={x} cy={y} r={12} className={css.light} />
            <circle cx={x} cy={y} r={12} className={css.dark} />
          </g>
        );
      })}
      {touch && (
        <g data-testid="selected-touch">
          <Outline touch={touch} photo={photo} seen={seen} />
          <Grip
            name="Move it"
            at={toScreen(seen, middleOf(touch, photo))}
            onPull={(event) => pull(event, (by) => movedTouch(stored, by, photo))}
          />
          {touch.kind === "cover" && touch.how !== "fill" && stored?.kind === "cover" && (
            <Grip
              name="Move its source"
              source
              at={toScreen(seen, added(middleOf(touch, photo), placed(touch.shift ?? [0, 0], photo)))}
              onPull={(event) =>
                pull(event, ([dx, dy]) => {
                  const [x = 0, y = 0] = stored.shift ?? [];
                  const near = (value: number) => Math.min(2, Math.max(-1, value));
                  return { ...stored, shift: [near(x + dx / photo.width), near(y + dy / photo.height)] };
                })
              }
            />
          )}
          {touch.kind === "adjust" && touch.area.kind === "round" && (
            <Grip
              name="Change its size"
              at={toScreen(
                seen,
                added(placed(touch.area.centre, photo), [
                  (touch.area.across[0] ?? 0) * longer(photo),
                  (touch.area.across[1] ?? 0) * longer(photo),
                ]),
              )}
              onPull={(event) => pull(event, (by) => sized(stored, by, photo))}
            />
          )}
          {touch.kind === "adjust" && touch.area.kind === "graded" && (
            <Grip
              name="Move where it ends"
              at={toScreen(seen, placed(touch.area.end, photo))}
              onPull={(event) => pull(event, (by) => ended(stored, by, photo))}
            />
          )}
        </g>
      )}
    </>
  );
}

const added = (a: Point, b: Point): Point => [a[0] + b[0], a[1] + b[1]];

function sized(touch: Touch | undefined, by: Point, photo: Size): Touch | undefined {
  if (touch?.kind !== "adjust" || touch.area.kind !== "round") return undefined;
  const across = touch.area.across.map((side, n) => Math.max(0.002, side + (by[n] ?? 0) / longer(photo)));
  return { ...touch, area: { ...touch.area, across: across as [number, number] } };
}

function ended(touch: Touch | undefined, by: Point, photo: Size): Touch | undefined {
  if (touch?.kind !== "adjust" || touch.area.kind !== "graded") return undefined;
  const [x = 0, y = 0] = touch.area.end;
  return { ...touch, area: { ...touch.area, end: [x + by[0] / photo.width, y + by[1] / photo.height] } };
}

function Grip({
  name,
  at: [x, y],
  source,
  onPull,
}: {
  name: string;
  at: Point;
  source?: boolean;
  onPull: (event: PointerEvent<SVGElement>) => void;
}) {
  return (
    <g className={css.pull} onPointerDown={onPull} data-testid={source ? "source-grip" : "grip"}>
      <title>{name}</title>
      <circle cx={x} cy={y} r={12} fill="transparent" />
      {source ? (
        <path d={`M${x - 7},${y}h14M${x},${y - 7}v14`} className={css.source} />
      ) : (
        <rect x={x - 5} y={y - 5} width={10} height={10} className={css.grip} />
      )}
    </g>
  );
}

function Outline({ touch, photo, seen }: { touch: Touch; photo: Size; seen: Seen }) {
  const both = (d: string, wide?: number) => (
    <>
      <path
        d={d}
        className={css.light}
        style={wide ? { strokeWidth: wide + 2, strokeOpacity: 0.25 } : undefined}
      />
      <path d={d} className={css.dark} />
    </>
  );
  const on = (point: readonly number[]) => toScreen(seen, placed(point, photo));
  const circle = (x: number, y: number, rx: number, ry: number) =>
    `M${x - rx},${y}a${rx},${ry} 0 1 0 ${2 * rx},0a${rx},${ry} 0 1 0 ${-2 * rx},0Z`;
  const long = longer(photo) * seen.k;
  if (touch.kind === "eye")
    return both(circle(...on(touch.centre), touch.radius * long, touch.radius * long));
  const { area } = touch;
  if (area.kind === "round")
    return both(circle(...on(area.centre), (area.across[0] ?? 0) * long, (area.across[1] ?? 0) * long));
  if (area.kind === "graded") {
    const [a, b] = [on(area.start), on(area.end)];
    const far = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    const [nx, ny] = [(-(b[1] - a[1]) / far) * 4000, ((b[0] - a[0]) / far) * 4000];
    const line = ([x, y]: Point) => `M${x - nx},${y - ny}L${x + nx},${y + ny}`;
    return both(`${line(a)}${line(b)}M${a}L${b}`);
  }
  if (area.kind === "cut") {
    const lines = area.rings.map((ring) => `M${ring.map(on).join("L")}Z`).join("");
    if (touch.kind !== "free") return both(lines);
    const all = `M${on([0, 0])}L${on([1, 0])}L${on([1, 1])}L${on([0, 1])}Z`;
    return (
      <>
        <path d={`${all}${lines}`} className={css.apart} />
        {both(lines)}
      </>
    );
  }
  const points = area.points.map(on);
  if (area.kind === "outlined") return both(`M${points.join("L")}Z`);
  const wide = 2 * area.radius * long;
  if (points.length === 1) return both(circle(...(points[0] as [number, number]), wide / 2, wide / 2));
  return both(`M${points.join("L")}`, wide);
}
