import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { useLocation } from "wouter";
import { sheetPicture } from "../api/client";
import { editionIn, jobAddress } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { CARRIED } from "../editing/sheets";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import type { Action } from "../ui/actions";
import { Mark } from "../ui/Mark";
import { openMenuAt } from "../ui/menuAt";
import { room } from "../ui/room";
import { useIsSmall } from "../ui/small";
import { t } from "../words";
import css from "./bench.module.css";

const WIDE = 64;
const HIGH = 84;
const SMALL_WIDE = 44; // in a small window
const BELOW = 31; // for a sheet's name, and the gap to the next

/** How high a sheet stands in the strip, px, as its picture needs, so that as many as can be are in view; a long name adds to it. */
const highOf = (view: View, index: number, wide: number) =>
  Math.round(Math.min(HIGH, wide / (view.marks[index]?.ratio ?? 1))) + BELOW;

/** The job's sheets, small; only those in view are asked for. They are pulled, or moved by Alt and the arrows, into order. */
export function SheetStrip({ state }: { state: View }) {
  const set = useBench((bench) => bench.set);
  const sheetId = useBench((bench) => bench.sheet);
  const scroller = useRef<HTMLElement>(null);
  const wide = useIsSmall() ? SMALL_WIDE : WIDE;
  const strip = useVirtualizer({
    count: state.sheets.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => highOf(state, index, wide),
    getItemKey: (index) => state.sheets[index]?.id ?? index,
    overscan: 3,
  });
  const highs = state.sheets.map((_, index) => highOf(state, index, wide)).join();
  useEffect(() => {
    if (highs) strip.measure();
  }, [strip, highs]);
  useEffect(() => strip.scrollToIndex(state.at), [strip, state.at]);
  const { edit } = useChange(state);
  const [, go] = useLocation();
  const [over, setOver] = useState<string>();
  const move = (id: string, before: string) => {
    if (id !== before) edit({ op: "move_sheets", sheets: [id], before });
  };
  const copy = (which: string, with_photos: boolean) =>
    edit({ op: "copy_sheet", which, fresh: `sheet-${crypto.randomUUID().slice(0, 8)}`, with_photos });
  const last = state.sheets.length - 1;
  const actionsOn = (id: string, index: number): Action[] => [
    { label: t("Show"), run: () => set({ sheet: id, selected: undefined }) },
    { label: t("Duplicate the layout"), run: () => copy(id, false) },
    { label: t("Duplicate with its photos"), run: () => copy(id, true) },
    {
      label: t("Move up"),
      keys: "Alt ↑",
      starts: true,
      isOff: index === 0,
      run: () => move(id, state.sheets[index - 1]?.id ?? ""),
    },
    {
      label: t("Move down"),
      keys: "Alt ↓",
      isOff: index === last,
      run: () => move(id, state.sheets[index + 2]?.id ?? ""),
    },
    ...(last > 0
      ? [
          {
            label: t("Flat plan"),
            starts: true,
            run: () => go(jobAddress(state.id, { edition: editionIn(state) }, "plan")),
          },
        ]
      : []),
  ];
  return (
    <nav
      className={css.pages}
      aria-label={t("Pages")}
      data-single={state.sheets.length === 1 || undefined}
      ref={scroller}
    >
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
                ref={strip.measureElement}
                data-index={index}
                style={{ top: start }}
                aria-current={index === state.at ? "page" : undefined}
                data-coming={(sheet.id === sheetId && index !== state.at) || undefined}
                aria-label={t("Page {number}, {name}", { number: index + 1, name: sheet.name })}
                data-over={over === sheet.id || undefined}
                draggable={state.sheets.length > 1}
                onClick={() => set({ sheet: sheet.id, selected: undefined })}
                onKeyDown={(event) => {
                  if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
                  event.preventDefault();
                  event.stopPropagation();
                  const next = state.sheets[index + (event.key === "ArrowUp" ? -1 : 2)];
                  if (event.key === "ArrowUp" ? index > 0 : index < state.sheets.length - 1)
                    move(sheet.id, next?.id ?? "");
                }}
                onContextMenu={(event) => openMenuAt(event, sheet.name, actionsOn(sheet.id, index))}
                onDragStart={(event) => {
                  event.dataTransfer.setData(CARRIED, sheet.id);
                  event.dataTransfer.effectAllowed = "move";
                }}
                onDragOver={(event) => {
                  if (!event.dataTransfer.types.includes(CARRIED)) return;
                  event.preventDefault();
                  setOver(sheet.id);
                }}
                onDragLeave={() => setOver(undefined)}
                onDrop={(event) => {
                  const carried = event.dataTransfer.getData(CARRIED);
                  setOver(undefined);
                  if (!carried) return;
                  event.preventDefault();
                  event.stopPropagation();
                  // Let go on a later sheet it comes after it, on an earlier one before it: where that one lay.
                  const from = state.sheets.findIndex((one) => one.id === carried);
                  const next = from < index ? state.sheets[index + 1]?.id : sheet.id;
                  move(carried, next ?? "");
                }}
              >
                <img
                  src={sheetPicture(mark?.key ?? "", 150)}
                  alt=""
                  style={room(mark?.ratio ?? 1, `${wide}px`, `${HIGH}px`)}
                  draggable={false}
                />
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
