import { SegmentedControl } from "@mantine/core";
import { useViewportSize } from "@mantine/hooks";
import { type KeyboardEvent, type PointerEvent, type ReactNode, useMemo, useRef, useState } from "react";
import type { KeepArea } from "../../api/client";
import { useChange } from "../../editing/changes";
import { held, keptAs, NONE, ownLying } from "../../editing/fitting";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import {
  apply,
  clamped,
  inverse,
  type Lying,
  openingFromPhoto,
  type Point,
  path,
  shownOf,
  zoomed,
} from "../../geometry/placing";
import { Dialog } from "../../ui/Dialog";
import { follow } from "../../ui/follow";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import { fitByKey } from "../keys";
import { KeepAreas } from "./KeepAreas";
import { PhotoRoomSide, type Tool } from "./PhotoRoomSide";
import { areaBetween, byHand, HIGH, levelled, screenFromPhoto, WIDE } from "./photoroom";
import css from "./photoroom.module.css";
import { Retouch } from "./retouch/Retouch";
import { Standing } from "./Standing";

const OTHER_WAY: Record<string, string> = {
  ArrowLeft: "ArrowRight",
  ArrowRight: "ArrowLeft",
  ArrowUp: "ArrowDown",
  ArrowDown: "ArrowUp",
};
/** Beside the photo stand 300 px of tools; about it all is the window's frame. */
const BESIDE: Point = [348, 78];

/** The whole photo of an opening, to be fitted there or to be retouched. */
export function PhotoRoom({ state }: { state: View }) {
  const { photoRoom, retouching, set } = usePicked(useBench, "photoRoom", "retouching", "set");
  const { width, height } = useViewportSize();
  const room = useMemo(
    () => ({ width: Math.max(280, width - BESIDE[0]), height: Math.max(300, height - BESIDE[1]) }),
    [width, height],
  );
  const now = held(state, photoRoom, NONE);
  if (!photoRoom || !now) return null;
  const top = (
    <SegmentedControl
      size="xs"
      fullWidth
      aria-label={t("What is done with the photo")}
      value={retouching ? "retouch" : "fit"}
      onChange={(value) => set({ retouching: value === "retouch" })}
      data={[
        { value: "fit", label: t("Fit") },
        { value: "retouch", label: t("Retouch") },
      ]}
    />
  );
  return (
    <Dialog
      onClose={() => set({ photoRoom: undefined })}
      size="auto"
      fullScreen={retouching}
      closeOnEscape={!retouching}
      title={t("Opening {number}: {name}", { number: now.row.number, name: now.photo.name })}
      transitionProps={{ duration: 0 }}
    >
      {retouching && width ? (
        <Retouch
          key={photoRoom}
          state={state}
          now={now}
          room={room}
          top={top}
          onLeave={() => set({ photoRoom: undefined })}
        />
      ) : (
        <Room key={photoRoom} state={state} opening={photoRoom} top={top} />
      )}
    </Dialog>
  );
}

/** What shows of the photo is bright. Crop, straighten along a line, say what must stay visible. */
function Room({ state, opening, top }: { state: View; opening: string; top: ReactNode }) {
  const { edit } = useChange(state);
  const set = useBench((bench) => bench.set);
  const now = held(state, opening, NONE);
  const [draft, setDraft] = useState<Lying>();
  // What is pointed at is seen before it is chosen.
  const [ratio, tryRatio] = useState<number | null>();
  const [tool, setTool] = useState<Tool>("crop");
  const [line, setLine] = useState<[Point, Point]>();
  const [areas, setAreas] = useState<KeepArea[]>();
  const svg = useRef<SVGSVGElement>(null);
  if (!now) return null;
  const { photo, outline } = now;
  const tried =
    ratio === undefined ? now.lying : clamped(outline, photo, { ...now.lying, fit: "cover", ratio });
  const lying = draft ?? tried;
  /** What an edit begins with: not what is only pointed at. */
  const base = draft ?? now.lying;
  const marks = areas ?? now.keeps.map(({ seen }) => seen);
  const onto = screenFromPhoto(photo, lying);
  const photoFromOpening = inverse(openingFromPhoto(outline, photo, lying));
  const toScreen = (point: Point) => apply(onto, point);
  const toPhoto = (point: Point) => apply(inverse(onto), point);
  const frame = shownOf(outline, lying).map((point) => toScreen(apply(photoFromOpening, point)));
  const box = path(frame);
  const opened = path(outline.map((point) => toScreen(apply(photoFromOpening, point))));
  const pointOf = (event: { clientX: number; clientY: number }): Point => {
    const edge = svg.current?.getBoundingClientRect();
    const px = WIDE / (edge?.width || WIDE); // in a small window it is drawn smaller
    return [(event.clientX - (edge?.left ?? 0)) * px, (event.clientY - (edge?.top ?? 0)) * px];
  };
  const keep = (next: Lying) => {
    setDraft(next);
    const done = () => setDraft((now) => (now === next ? undefined : now));
    edit(
      { op: "place", opening, ...ownLying(state, opening, next), expect: photo.id },
      { onStored: done, onFailed: done },
    );
  };
  const mark = (next: KeepArea[] | null) => {
    setAreas(next ?? undefined);
    const done = () => setAreas((now) => (now === next ? undefined : now));
    const fit = next && keptAs(state, now, next);
    edit({ op: "mark", photo: photo.id, areas: fit }, { onStored: done, onFailed: done });
  };
  const cover = (part: Partial<Lying>): Lying => clamped(outline, photo, { ...base, fit: "cover", ...part });

  /** Follows a pull from a pointer press until it is let go. */
  const pulled = (event: PointerEvent<SVGElement>, move: (point: Point) => void, done: () => void) => {
    if (event.button !== 0 || !event.isPrimary) return; // a second finger pulls nothing
    event.stopPropagation();
    event.preventDefault();
    follow(event, (next) => move(pointOf(next)), done);
  };

  const pullFrame = (event: PointerEvent<SVGElement>) => {
    const from = toPhoto(pointOf(event));
    let last: Lying | undefined;
    pulled(
      event,
      (point) => {
        const here = toPhoto(point);
        last = cover({
          centre: [
            base.centre[0] + (here[0] - from[0]) / photo.width,
            base.centre[1] + (here[1] - from[1]) / photo.height,
          ],
        });
        setDraft(last);
      },
      () => last && keep(last),
    );
  };
  const pullCorner = (event: PointerEvent<SVGElement>) => {
    const middle = toScreen([lying.centre[0] * photo.width, lying.centre[1] * photo.height]);
    const start = Math.hypot(pointOf(event)[0] - middle[0], pointOf(event)[1] - middle[1]);
    let last: Lying | undefined;
    pulled(
      event,
      (point) => {
        const here = Math.hypot(point[0] - middle[0], point[1] - middle[1]);
        last = zoomed(outline, photo, { ...base, fit: "cover" }, start / Math.max(4, here), [0, 0]);
        setDraft(last);
      },
      () => last && keep(last),
    );
  };
  const drawLine = (event: PointerEvent<SVGElement>) => {
    const from = pointOf(event);
    let to = from;
    pulled(
      event,
      (point) => {
        to = point;
        setLine([from, to]);
      },
      () => {
        setLine(undefined);
        const turn_deg = levelled(lying.turn_deg, from, to);
        if (turn_deg !== undefined) keep(cover({ turn_deg }));
      },
    );
  };
  const drawArea = (event: PointerEvent<SVGElement>) => {
    const from = toPhoto(pointOf(event));
    let drawn: KeepArea | undefined;
    pulled(
      event,
      (point) => {
        drawn = areaBetween(from, toPhoto(point), photo);
        setAreas(drawn ? [...marks, drawn] : undefined);
      },
      () => (drawn ? mark([...byHand(marks), drawn]) : undefined),
    );
  };
  const fitted = (event: KeyboardEvent) => {
    if (!now || event.ctrlKey || event.metaKey || event.altKey) return;
    // Here the frame moves over the photo, on the page the photo under the frame.
    const next = fitByKey({ ...now, lying: base }, OTHER_WAY[event.key] ?? event.key, event.shiftKey);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    keep(clamped(outline, photo, next));
  };
  const press = tool === "level" ? drawLine : tool === "keep" ? drawArea : pullFrame;
  const edges: Point[] = [
    [0, 0],
    [photo.width, 0],
    [photo.width, photo.height],
    [0, photo.height],
  ];
  const whole = path(edges.map(toScreen));
  const m = onto;
  return (
    <div className={css.room}>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        className={css.view}
        data-tool={tool}
        onPointerDown={press}
        onKeyDown={fitted}
        data-testid="photo-room"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the photo is fitted by keys here, as by the pointer
        tabIndex={0}
        role="group"
        aria-label={t("{name}: arrows move what shows of it, plus and minus zoom, brackets turn, M mirrors", {
          name: photo.name,
        })}
      >
        <title>{photo.name}</title>
        <defs>
          <clipPath id="shown">
            <path d={box} />
          </clipPath>
        </defs>
        {[css.faint, undefined].map((look) => (
          <g key={look ?? "shown"} clipPath={look ? undefined : "url(#shown)"}>
            <image
              className={look}
              href={now.picture}
              width={photo.width}
              height={photo.height}
              preserveAspectRatio="none"
              transform={`matrix(${m[0]} ${m[3]} ${m[1]} ${m[4]} ${m[2]} ${m[5]})`}
            />
          </g>
        ))}
        <path d={whole} className={css.edge} />
        {lying.ratio && <path d={`${opened}${box}`} className={css.bare} data-testid="left-bare" />}
        <path d={box} className={css.light} />
        <path d={box} className={css.dark} />
        {tool === "crop" &&
          frame.length <= 8 &&
          frame.map(([x, y], n) => (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: corners have no other name
              key={n}
              x={x - 6}
              y={y - 6}
              width={12}
              height={12}
              className={css.corner}
              onPointerDown={pullCorner}
              data-testid="crop-corner"
            />
          ))}
        {line && <path d={`M${line[0]}L${line[1]}`} className={css.line} />}
        <KeepAreas
          areas={marks}
          photo={photo}
          toScreen={toScreen}
          toPhoto={toPhoto}
          at={pointOf}
          isTool={tool === "keep"}
          pull={pulled}
          show={setAreas}
          keep={mark}
        />
      </svg>
      <PhotoRoomSide
        top={top}
        standing={<Standing state={state} now={now} />}
        now={now}
        lying={lying}
        marks={marks}
        tool={tool}
        setTool={setTool}
        tryRatio={tryRatio}
        keep={(part) => keep(cover(part))}
        mark={mark}
        bringIntoView={() => edit({ op: "keep_in_view", openings: [opening] })}
        done={() => set({ photoRoom: undefined })}
      />
    </div>
  );
}
