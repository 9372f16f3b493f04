import { t } from "../../../words";
import css from "./retouch.module.css";

/** A line over the photo: left of it the photo is as it was. */
export function Wiper({
  at: share,
  room,
  onMove,
}: {
  at: number;
  room: { width: number; height: number };
  onMove: (share: number) => void;
}) {
  const held = (value: number) => Math.min(1, Math.max(0, value));
  return (
    <g
      className={css.wiper}
      role="slider"
      tabIndex={0}
      aria-label={t("Before, left of this line")}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(share * 100)}
      onKeyDown={(event) => {
        const by = event.key === "ArrowLeft" ? -0.02 : event.key === "ArrowRight" ? 0.02 : 0;
        if (!by) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(held(share + by));
      }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        event.stopPropagation();
        const edge = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
        if (edge) onMove(held((event.clientX - edge.left) / edge.width));
      }}
    >
      <rect x={share * room.width - 12} y={0} width={24} height={room.height} fill="transparent" />
      <path d={`M${share * room.width},0V${room.height}`} className={css.light} />
      <path d={`M${share * room.width},0V${room.height}`} className={css.dark} />
      <rect x={share * room.width - 7} y={room.height / 2 - 16} width={14} height={32} className={css.grip} />
    </g>
  );
}
