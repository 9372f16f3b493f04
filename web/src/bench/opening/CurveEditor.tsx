import { Button, SegmentedControl } from "@mantine/core";
import { useId, useRef, useState } from "react";
import type { Photo, Step } from "../../api/client";
import { along, type CurvePoint, moved, withPoint } from "../../geometry/curve";
import { follow } from "../../ui/follow";
import { t } from "../../words";
import css from "./curve.module.css";
import { CHANNELS, type Channel, Histogram, SIDE, useCounts } from "./Histogram";

type Curves = Extract<Step, { kind: "curves" }>;
const STRAIGHT: CurvePoint[] = [
  [0, 0],
  [255, 255],
];
const VALUES = Array.from({ length: 52 }, (_, n) => n * 5);
const TOLD_MS = 150;

/** A curve for all colours or one, over how often each value is in the photo; points by pointer and by keys. */
export function CurveEditor({
  photo,
  step,
  onChange,
}: {
  photo: Photo;
  step: Curves | undefined;
  onChange: (part: Partial<Curves>, gesture?: string) => void;
}) {
  const [channel, setChannel] = useState<Channel>("all");
  const [at, setAt] = useState<number>();
  const [draft, setDraft] = useState<CurvePoint[]>();
  const svg = useRef<SVGSVGElement>(null);
  const counts = useCounts(photo);
  const id = useId();
  const curve = (step?.[channel] as CurvePoint[] | undefined) ?? STRAIGHT;
  const points = draft ?? curve;
  const keep = (next: CurvePoint[], gesture?: string) => onChange({ [channel]: next }, gesture);
  const where = (event: { clientX: number; clientY: number }): CurvePoint => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [
      ((event.clientX - box.left) / box.width) * SIDE,
      (1 - (event.clientY - box.top) / box.height) * SIDE,
    ];
  };
  const pull = (event: React.PointerEvent, from: CurvePoint[], n: number) => {
    event.preventDefault();
    setAt(n);
    let latest = from;
    let lastSent = performance.now();
    const gesture = `curve-${crypto.randomUUID()}`;
    setDraft(latest);
    follow(
      event,
      (moving) => {
        latest = moved(latest, n, where(moving));
        setDraft(latest);
        if (performance.now() - lastSent < TOLD_MS) return;
        lastSent = performance.now();
        keep(latest, gesture); // the sheet follows; all of it is one step to undo
      },
      () => {
        setDraft(undefined);
        keep(latest, gesture);
      },
    );
  };
  const remove = (n: number) => {
    if (n > 0 && n < points.length - 1) keep(points.filter((_, k) => k !== n));
    setAt(undefined);
  };
  const line = along(points, VALUES)
    .map((value, n) => `${VALUES[n]},${(SIDE - value).toFixed(1)}`)
    .join(" ");
  const chosen = at === undefined ? undefined : points[at];
  return (
    <div className={css.curve} data-channel={channel}>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={t("Channel")}
        value={channel}
        onChange={(value) => {
          setChannel(value as Channel);
          setAt(undefined);
        }}
        data={CHANNELS}
      />
      <svg
        ref={svg}
        viewBox={`0 0 ${SIDE} ${SIDE}`}
        className={css.plot}
        role="group"
        aria-label={t("Curve of {channel}; click adds a point", {
          channel: channel === "all" ? t("all colours") : channel,
        })}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          const [x] = where(event);
          const [next, n] = withPoint(points, x, where(event)[1]);
          pull(event, next, n);
        }}
      >
        <Histogram counts={counts} channel={channel} />
        <path d="M0 255 L255 0 M64 0 V255 M128 0 V255 M191 0 V255 M0 64 H255 M0 128 H255 M0 191 H255" />
        <polyline points={line} />
        {points.map(([x, y], n) => (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name
            key={n}
            cx={x}
            cy={SIDE - y}
            r={7}
            role="slider"
            tabIndex={0}
            aria-label={t("Point {number}", { number: n + 1 })}
            aria-valuemin={0}
            aria-valuemax={255}
            aria-valuenow={y}
            aria-valuetext={t("{x} to {y}", { x, y })}
            data-here={at === n || undefined}
            onFocus={() => setAt(n)}
            onPointerDown={(event) => {
              event.stopPropagation();
              if (event.button === 0) pull(event, points, n);
            }}
            onDoubleClick={() => remove(n)}
            onKeyDown={(event) => {
              const by = event.shiftKey ? 10 : 1;
              const ways: Record<string, CurvePoint> = {
                ArrowUp: [0, by],
                ArrowDown: [0, -by],
                ArrowLeft: [-by, 0],
                ArrowRight: [by, 0],
              };
              const way = ways[event.key];
              if (way) keep(moved(points, n, [x + way[0], y + way[1]]), `curve-${id}-${channel}-${n}`);
              else if (event.key === "Delete" || event.key === "Backspace") remove(n);
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
          />
        ))}
      </svg>
      <p className={`${css.said} num`}>
        {chosen
          ? t("From {from} to {to}", { from: chosen[0], to: chosen[1] })
          : t("Click to add a point; pull it, or use the arrow keys")}
        <Button
          size="compact-xs"
          variant="subtle"
          disabled={at === undefined || at === 0 || at === points.length - 1}
          onClick={() => at !== undefined && remove(at)}
        >
          {t("Remove point")}
        </Button>
      </p>
    </div>
  );
}
