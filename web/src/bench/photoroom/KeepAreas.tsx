import type { KeyboardEvent, PointerEvent } from "react";
import type { KeepArea, Photo } from "../../api/client";
import { ellipseOf, KEEP_NAMES } from "../../geometry/areas";
import { type Point, path } from "../../geometry/placing";
import { t } from "../../words";
import { areaPulled, byHand } from "./photoroom";
import css from "./photoroom.module.css";

const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
/** How far a key moves a keep area, in shares of the photo. */
const STEP = 0.01;

interface Props {
  areas: KeepArea[];
  photo: Photo;
  toScreen: (point: Point) => Point;
  toPhoto: (point: Point) => Point;
  /** Where a pointer is on the screen, as `toPhoto` takes it. */
  at: (event: { clientX: number; clientY: number }) => Point;
  /** Whether areas are pulled about just now. */
  isTool: boolean;
  pull: (event: PointerEvent<SVGElement>, move: (point: Point) => void, done: () => void) => void;
  show: (areas: KeepArea[] | undefined) => void;
  keep: (areas: KeepArea[]) => void;
}

/** What must stay visible of a photo, drawn on it: pulled about and sized, by keys too. */
export function KeepAreas({ areas, photo, toScreen, toPhoto, at, isTool, pull, show, keep }: Props) {
  const moveArea = (event: PointerEvent<SVGElement>, which: number, size: boolean) => {
    const from = toPhoto(at(event));
    const area = areas[which];
    if (!area) return;
    let next: KeepArea[] | undefined;
    pull(
      event,
      (point) => {
        const here = toPhoto(point);
        const changed = areaPulled(area, [here[0] - from[0], here[1] - from[1]], photo, size);
        next = byHand(areas.map((entry, n) => (n === which ? changed : entry)));
        show(next);
      },
      () => next && keep(next),
    );
  };
  const changeArea = (event: KeyboardEvent, which: number) => {
    const area = areas[which];
    const way = WAYS[event.key];
    if (!area || !(way || event.key === "Delete" || event.key === "Backspace")) return;
    event.preventDefault();
    event.stopPropagation();
    const by: Point = way ? [way[0] * photo.width * STEP, way[1] * photo.height * STEP] : [0, 0];
    const others = areas.filter((_, n) => n !== which);
    keep(
      byHand(
        way
          ? areas.map((entry, n) => (n === which ? areaPulled(area, by, photo, event.shiftKey) : entry))
          : others,
      ),
    );
  };
  return (
    <>
      {areas.map((area, which) => {
        const d = path(ellipseOf(area, photo).map(toScreen));
        const grip = toScreen([
          (area.left + area.width) * photo.width,
          (area.top + area.height) * photo.height,
        ]);
        return (
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: areas have no other name
            key={which}
            data-kind={area.kind}
            className={css.area}
            data-testid="keep-area"
            tabIndex={0}
            role="button"
            aria-label={t(
              "Keep area {number}, {kind}: arrows move it, with Shift its size, Delete removes it",
              { number: which + 1, kind: KEEP_NAMES[area.kind ?? "hand"] },
            )}
            onKeyDown={(event) => changeArea(event, which)}
          >
            <path d={d} className={css.light} />
            <path
              d={d}
              className={css.keep}
              onPointerDown={(event) => isTool && moveArea(event, which, false)}
            />
            {isTool && (
              <rect
                x={grip[0] - 6}
                y={grip[1] - 6}
                width={12}
                height={12}
                className={css.corner}
                onPointerDown={(event) => moveArea(event, which, true)}
              />
            )}
          </g>
        );
      })}
    </>
  );
}
