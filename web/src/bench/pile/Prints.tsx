import { useElementSize, useMergedRef } from "@mantine/hooks";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useMemo, useRef } from "react";
import type { Photo } from "../../api/client";
import { breakLines } from "./lines";
import css from "./pile.module.css";

interface Props {
  photos: readonly Photo[];
  /** How high a photo is shown, px. */
  high: number;
  children: (photo: Photo) => ReactNode;
}

const GAP = 8;
const widthOf = ({ width, height }: Photo, high: number) =>
  Math.min(2 * high, Math.max(0.6 * high, Math.round(high * (width / height)))) + GAP;

/** Photos of the pile in one line, those that are in view. */
export function Strip({ photos, high, children }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const strip = useVirtualizer({
    horizontal: true,
    count: photos.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (photos[index] ? widthOf(photos[index], high) : 100),
    getItemKey: (index) => photos[index]?.id ?? index,
    overscan: 6,
  });
  return (
    <div
      className={css.strip}
      style={{ height: high + 20 }}
      ref={scroller}
      onWheel={({ currentTarget, deltaX, deltaY, shiftKey }) => {
        // An ordinary wheel turns down; the pile lies across.
        if (!shiftKey && Math.abs(deltaY) > Math.abs(deltaX)) currentTarget.scrollLeft += deltaY;
      }}
    >
      <div style={{ width: strip.getTotalSize(), position: "relative", height: "100%" }}>
        {strip.getVirtualItems().map((item) => {
          const photo = photos[item.index];
          return (
            photo && (
              <div
                key={item.key}
                className={css.slot}
                style={{ left: item.start, width: item.size, height: high }}
              >
                {children(photo)}
              </div>
            )
          );
        })}
      </div>
    </div>
  );
}

/** Photos of the pile in as many lines as they need, those that are in view. */
export function Grid({ photos, high, children }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { ref, width } = useElementSize();
  const both = useMergedRef(scroller, ref);
  const lines = useMemo(
    () => breakLines(photos, (photo) => widthOf(photo, high), Math.max(200, width)),
    [photos, high, width],
  );
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => high + GAP,
    overscan: 2,
  });
  return (
    <div className={css.grid} ref={both}>
      <div style={{ height: rows.getTotalSize(), position: "relative" }}>
        {rows.getVirtualItems().map(({ index, start }) => (
          <div key={index} className={css.line} style={{ top: start, height: high }}>
            {lines[index]?.map((photo) => (
              <div key={photo.id} className={css.cell} style={{ width: widthOf(photo, high) }}>
                {children(photo)}
              </div>
            ))}
          </div>
        ))}
      </div>
    </div>
  );
}
