/** A ruler along the sheet's edge, in the job's unit, counted from the trim. */
import { mmOf, type Unit } from "../ui/units";

const STEPS = {
  mm: [1, 5, 10, 20, 50, 100, 200],
  cm: [0.1, 0.5, 1, 2, 5, 10, 20],
  in: [0.125, 0.25, 0.5, 1, 2, 4, 8],
};

export function Ruler({
  length,
  start,
  scale,
  unit,
  upright,
  back,
}: {
  length: number;
  start: number;
  scale: number;
  unit: Unit;
  upright?: boolean;
  /** Counted from the far end, of a sheet that is turned. */
  back?: boolean;
}) {
  const mm = mmOf(1, unit);
  const minor = STEPS[unit].find((step) => step * mm * scale >= 6) ?? 100;
  const major = STEPS[unit].find((step) => step * mm * scale >= 46 && step >= minor) ?? 200;
  const way = back ? -1 : 1;
  const ends = [0, length].map((px) => (way * (px - start)) / scale / mm).sort((a, b) => a - b);
  const ticks: number[] = [];
  for (let tick = Math.ceil((ends[0] ?? 0) / minor) * minor; tick <= (ends[1] ?? 0); tick += minor)
    ticks.push(Math.round(tick * 1000) / 1000);
  const thick = 22;
  const isMajor = (tick: number) => Math.abs(tick / major - Math.round(tick / major)) < 1e-6;
  return (
    <svg
      width={upright ? thick : length}
      height={upright ? length : thick}
      aria-hidden="true"
      style={{ display: "block", background: "var(--paper)", fontSize: 10 }}
    >
      {ticks.map((tick) => {
        const p = start + way * tick * mm * scale;
        const deep = isMajor(tick) ? 10 : 5;
        return (
          <g key={tick} stroke="var(--ink-soft)" strokeWidth={1} shapeRendering="crispEdges">
            {upright ? (
              <line x1={thick - deep} x2={thick} y1={p} y2={p} />
            ) : (
              <line y1={thick - deep} y2={thick} x1={p} x2={p} />
            )}
            {isMajor(tick) && (
              <text
                stroke="none"
                fill="var(--ink-soft)"
                x={upright ? 9 : p + 3}
                y={upright ? p + 3 : 10}
                transform={upright ? `rotate(-90 9 ${p + 3})` : undefined}
                textAnchor={upright ? "start" : undefined}
                dx={upright ? 6 : 0}
              >
                {tick}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
