import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { sheetPicture } from "../api/client";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { Mark } from "../ui/Mark";
import css from "./bench.module.css";

const HIGH = 118;

/** The job's sheets, small; only those in view are asked for. */
export function SheetStrip({ state }: { state: View }) {
  const set = useBench((bench) => bench.set);
  const scroller = useRef<HTMLElement>(null);
  const strip = useVirtualizer({
    count: state.sheets.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => HIGH,
    getItemKey: (at) => state.sheets[at]?.id ?? at,
    overscan: 3,
  });
  useEffect(() => strip.scrollToIndex(state.at), [strip, state.at]);
  return (
    <nav className={css.pages} aria-label="Pages" ref={scroller}>
      <div style={{ height: strip.getTotalSize(), position: "relative" }}>
        {strip.getVirtualItems().map(({ index, key, start }) => {
          const sheet = state.sheets[index];
          const mark = state.marks[index];
          const [, , stops = 0, looks = 0] = mark?.counts ?? [];
          return (
            sheet && (
              <button
                key={key}
                type="button"
                style={{ top: start, height: HIGH - 6 }}
                aria-current={index === state.at ? "page" : undefined}
                aria-label={`Page ${index + 1}, ${sheet.name}`}
                onClick={() => set({ sheet: sheet.id, selected: undefined })}
              >
                <img src={sheetPicture(mark?.key ?? "", 150)} alt="" />
                <span>
                  {stops + looks > 0 && <Mark size={9} status={stops ? "stop" : "look"} />} {sheet.name}
                </span>
              </button>
            )
          );
        })}
      </div>
    </nav>
  );
}
