import { Button, Modal } from "@mantine/core";
import { type PointerEvent, useRef, useState } from "react";
import { type JobState, type KeepArea, proxy } from "../api/client";
import { useChange } from "../api/queries";
import { Dial } from "../ui/Dial";
import { trimmed } from "../ui/format";
import { held, ownLying } from "./fitting";
import { ellipseOf, KEEP_NAMES, keepAreas } from "./KeepAreas";
import css from "./photoroom.module.css";
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
} from "./placing";
import { useBench } from "./store";

const WIDE = 720;
const HIGH = 500;
const RATIOS: [string, number | null][] = [
  ["Opening", null],
  ["2:3", 2 / 3],
  ["3:4", 3 / 4],
  ["4:5", 4 / 5],
  ["5:7", 5 / 7],
  ["1:1", 1],
  ["16:9", 16 / 9],
];
type Tool = "crop" | "level" | "keep";

/** The whole photo of an opening: what shows of it is bright. Crop, straighten along a line, say what must stay visible. */
export function PhotoRoom({ state }: { state: JobState }) {
  const { photoRoom, set } = useBench();
  const now = held(state, photoRoom, undefined);
  if (!photoRoom || !now) return null;
  return (
    <Modal
      opened
      onClose={() => set({ photoRoom: undefined })}
      size="auto"
      title={`Opening ${now.row.number}: ${now.photo.name}`}
      transitionProps={{ duration: 0 }}
      closeButtonProps={{ "aria-label": "Close" }}
    >
      <Room key={photoRoom} state={state} opening={photoRoom} />
    </Modal>
  );
}

function Room({ state, opening }: { state: JobState; opening: string }) {
  const { edit } = useChange(state.id);
  const set = useBench((bench) => bench.set);
  const now = held(state, opening, undefined);
  const [draft, setDraft] = useState<Lying>();
  const [tool, setTool] = useState<Tool>("crop");
  const [line, setLine] = useState<[Point, Point]>();
  const [areas, setAreas] = useState<KeepArea[]>();
  const svg = useRef<SVGSVGElement>(null);
  if (!now) return null;
  const { photo, outline } = now;
  const lying = draft ?? now.lying;
  const marks = areas ?? keepAreas(photo);
  // The photo is shown as the opening sees it: turned upright, all of it in view.
  const turn = (lying.turn_deg * Math.PI) / 180;
  const wide = Math.abs(photo.width * Math.cos(turn)) + Math.abs(photo.height * Math.sin(turn));
  const high = Math.abs(photo.width * Math.sin(turn)) + Math.abs(photo.height * Math.cos(turn));
  const k = Math.min(WIDE / wide, HIGH / high);
  const photoFromOpening = inverse(openingFromPhoto(outline, photo, lying));
  const flip = lying.mirror ? -1 : 1;
  // y runs down, so a turn counter-clockwise as seen is (c, s; -s, c); a mirrored photo is flipped first.
  const cos = Math.cos(turn) * k;
  const sin = Math.sin(turn) * k;
  const screenFromPhoto = [
    cos * flip, sin, WIDE / 2 - cos * flip * (photo.width / 2) - sin * (photo.height / 2),
    -sin * flip, cos, HIGH / 2 + sin * flip * (photo.width / 2) - cos * (photo.height / 2),
    0, 0, 1,
  ]; // biome-ignore format: three rows
  const toScreen = (point: Point) => apply(screenFromPhoto, point);
  const toPhoto = (point: Point) => apply(inverse(screenFromPhoto), point);
  const frame = shownOf(outline, lying).map((point) => toScreen(apply(photoFromOpening, point)));
  const box = path(frame);
  const at = (event: { clientX: number; clientY: number }): Point => {
    const edge = svg.current?.getBoundingClientRect();
    return [event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0)];
  };
  const keep = (next: Lying) => {
    setDraft(next);
    edit.mutate(
      { edit: { op: "place", opening, ...ownLying(state, opening, next) } },
      { onSettled: () => setDraft(undefined) },
    );
  };
  const mark = (next: KeepArea[] | null) => {
    setAreas(next ?? undefined);
    edit.mutate(
      { edit: { op: "mark", photo: photo.id, areas: next } },
      { onSettled: () => setAreas(undefined) },
    );
  };
  const cover = (part: Partial<Lying>): Lying => clamped(outline, photo, { ...lying, fit: "cover", ...part });

  /** Follows a pull from a pointer press until it is let go. */
  const follow = (event: PointerEvent<SVGElement>, move: (point: Point) => void, done: () => void) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.preventDefault();
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    const go = (next: globalThis.PointerEvent) => move(at(next));
    const up = () => {
      target.removeEventListener("pointermove", go);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", up);
      done();
    };
    target.addEventListener("pointermove", go);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", up);
  };

  const pullFrame = (event: PointerEvent<SVGElement>) => {
    const from = toPhoto(at(event));
    let last: Lying | undefined;
    follow(
      event,
      (point) => {
        const here = toPhoto(point);
        last = cover({
          centre: [
            lying.centre[0] + (here[0] - from[0]) / photo.width,
            lying.centre[1] + (here[1] - from[1]) / photo.height,
          ],
        });
        setDraft(last);
      },
      () => last && keep(last),
    );
  };
  const pullCorner = (event: PointerEvent<SVGElement>) => {
    const middle = toScreen([lying.centre[0] * photo.width, lying.centre[1] * photo.height]);
    const start = Math.hypot(at(event)[0] - middle[0], at(event)[1] - middle[1]);
    let last: Lying | undefined;
    follow(
      event,
      (point) => {
        const here = Math.hypot(point[0] - middle[0], point[1] - middle[1]);
        last = zoomed(outline, photo, { ...lying, fit: "cover" }, start / Math.max(4, here), [0, 0]);
        setDraft(last);
      },
      () => last && keep(last),
    );
  };
  const drawLine = (event: PointerEvent<SVGElement>) => {
    const from = at(event);
    let to = from;
    follow(
      event,
      (point) => {
        to = point;
        setLine([from, to]);
      },
      () => {
        setLine(undefined);
        const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
        if (length < 12) return;
        // The line becomes level or upright, whichever it is nearer to.
        const angle = (Math.atan2(-(to[1] - from[1]), to[0] - from[0]) * 180) / Math.PI;
        const off = angle - Math.round(angle / 90) * 90;
        const level = Math.round((lying.turn_deg - off) * 100) / 100;
        keep(cover({ turn_deg: ((((level + 180) % 360) + 360) % 360) - 180 }));
      },
    );
  };
  const drawArea = (event: PointerEvent<SVGElement>) => {
    const from = toPhoto(at(event));
    let drawn: KeepArea | undefined;
    follow(
      event,
      (point) => {
        drawn = areaBetween(from, toPhoto(point), photo);
        setAreas(drawn ? [...marks, drawn] : undefined);
      },
      () => (drawn ? mark([...hand(marks), drawn]) : undefined),
    );
  };
  const moveArea = (event: PointerEvent<SVGElement>, which: number, size: boolean) => {
    const from = toPhoto(at(event));
    const area = marks[which];
    if (!area) return;
    let next: KeepArea[] | undefined;
    follow(
      event,
      (point) => {
        const here = toPhoto(point);
        const dx = (here[0] - from[0]) / photo.width;
        const dy = (here[1] - from[1]) / photo.height;
        const least = 0.01;
        const changed = size
          ? {
              ...area,
              width: Math.min(1 - area.left, Math.max(least, area.width + dx)),
              height: Math.min(1 - area.top, Math.max(least, area.height + dy)),
            }
          : {
              ...area,
              left: Math.min(1 - area.width, Math.max(0, area.left + dx)),
              top: Math.min(1 - area.height, Math.max(0, area.top + dy)),
            };
        next = hand(marks.map((entry, n) => (n === which ? changed : entry)));
        setAreas(next);
      },
      () => next && mark(next),
    );
  };
  const press = tool === "level" ? drawLine : tool === "keep" ? drawArea : pullFrame;
  const ratioOf = (name: string) => {
    const found = RATIOS.find(([label]) => label === name)?.[1] ?? null;
    // A named ratio stands the way the opening does.
    const upright = now.row.height_mm > now.row.width_mm;
    return found === null || found === 1 ? found : upright === found < 1 ? found : 1 / found;
  };
  const chosen =
    lying.ratio === null
      ? "Opening"
      : RATIOS.find(([name]) => Math.abs((ratioOf(name) ?? 0) - (lying.ratio ?? 0)) < 1e-6)?.[0];
  const edges: Point[] = [
    [0, 0],
    [photo.width, 0],
    [photo.width, photo.height],
    [0, photo.height],
  ];
  const whole = path(edges.map(toScreen));
  const m = screenFromPhoto;
  return (
    <div className={css.room}>
      <svg
        ref={svg}
        width={WIDE}
        height={HIGH}
        className={css.view}
        data-tool={tool}
        onPointerDown={press}
        data-testid="photo-room"
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
              href={proxy(photo)}
              width={photo.width}
              height={photo.height}
              preserveAspectRatio="none"
              transform={`matrix(${m[0]} ${m[3]} ${m[1]} ${m[4]} ${m[2]} ${m[5]})`}
            />
          </g>
        ))}
        <path d={whole} className={css.edge} />
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
        {marks.map((area, which) => {
          const d = path(ellipseOf(area, photo).map(toScreen));
          const grip = toScreen([
            (area.left + area.width) * photo.width,
            (area.top + area.height) * photo.height,
          ]);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: areas have no other name
            <g key={which} data-kind={area.kind} className={css.area} data-testid="keep-area">
              <path d={d} className={css.light} />
              <path
                d={d}
                className={css.keep}
                onPointerDown={(event) => tool === "keep" && moveArea(event, which, false)}
              />
              {tool === "keep" && (
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
      </svg>
      <div className={css.side}>
        <fieldset>
          <legend>Crop to</legend>
          <div className={css.ratios}>
            {RATIOS.map(([name]) => (
              <Button
                key={name}
                size="compact-xs"
                variant={chosen === name ? "filled" : "default"}
                disabled={!!now.row.span}
                onClick={() => {
                  setTool("crop");
                  keep(cover({ ratio: ratioOf(name) }));
                }}
              >
                {name}
              </Button>
            ))}
            <Button
              size="compact-xs"
              variant="default"
              disabled={!lying.ratio}
              onClick={() => keep(cover({ ratio: lying.ratio ? 1 / lying.ratio : null }))}
            >
              Turn over
            </Button>
          </div>
          <Dial
            label="Free, wide to high"
            min={0.2}
            max={5}
            step={0.01}
            value={lying.ratio ?? Number(trimmed(now.row.width_mm / now.row.height_mm, 2))}
            disabled={!!now.row.span}
            onKeep={(ratio) => keep(cover({ ratio }))}
          />
          <Dial
            label="Zoom"
            unit="×"
            min={1}
            max={8}
            step={0.01}
            value={lying.zoom}
            onKeep={(zoom) => keep(cover({ zoom }))}
          />
        </fieldset>
        <fieldset>
          <legend>Straighten</legend>
          <Button
            size="compact-xs"
            variant={tool === "level" ? "filled" : "default"}
            aria-pressed={tool === "level"}
            onClick={() => setTool(tool === "level" ? "crop" : "level")}
          >
            Draw along a horizon or an edge
          </Button>
          <Dial
            label="Turn"
            unit="°"
            min={-45}
            max={45}
            step={0.1}
            value={lying.turn_deg}
            onKeep={(turn_deg) => keep(cover({ turn_deg }))}
          />
        </fieldset>
        <fieldset>
          <legend>Keep areas</legend>
          <p>
            {photo.marked
              ? "Marked by hand."
              : photo.found
                ? marks.length
                  ? `Found by the machine: ${[...new Set(marks.map((area) => KEEP_NAMES[area.kind ?? "hand"]))].join("; ")}.`
                  : "The machine found nothing that must stay visible."
                : "Not looked at yet."}
          </p>
          <div className={css.ratios}>
            <Button
              size="compact-xs"
              variant={tool === "keep" ? "filled" : "default"}
              aria-pressed={tool === "keep"}
              onClick={() => setTool(tool === "keep" ? "crop" : "keep")}
            >
              Draw and move
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                mark([...hand(marks), { kind: "hand", left: 0.35, top: 0.3, width: 0.3, height: 0.3 }])
              }
            >
              Add one
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={!marks.length}
              onClick={() => mark(hand(marks.slice(0, -1)))}
            >
              Remove the last
            </Button>
            <Button size="compact-xs" variant="default" disabled={!photo.marked} onClick={() => mark(null)}>
              Back to what was found
            </Button>
          </div>
        </fieldset>
        <div className={css.foot}>
          <Button
            variant="default"
            onClick={() => edit.mutate({ edit: { op: "keep_in_view", openings: [opening] } })}
          >
            Bring into view
          </Button>
          <Button onClick={() => set({ photoRoom: undefined })}>Done</Button>
        </div>
      </div>
    </div>
  );
}

/** Areas as marked by hand: what was changed once by hand is no longer the machine's. */
const hand = (areas: KeepArea[]): KeepArea[] => areas.map((area) => ({ ...area, kind: "hand" }));

function areaBetween(a: Point, b: Point, photo: { width: number; height: number }): KeepArea | undefined {
  const within = (value: number, size: number) => Math.min(1, Math.max(0, value / size));
  const [x0, x1] = [within(a[0], photo.width), within(b[0], photo.width)].sort((p, q) => p - q) as [
    number,
    number,
  ];
  const [y0, y1] = [within(a[1], photo.height), within(b[1], photo.height)].sort((p, q) => p - q) as [
    number,
    number,
  ];
  if (x1 - x0 < 0.01 || y1 - y0 < 0.01) return undefined;
  return { kind: "hand", left: x0, top: y0, width: x1 - x0, height: y1 - y0 };
}
