import { Checkbox } from "@mantine/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef, useState } from "react";
import { sheetPicture } from "../api/client";
import type { View } from "../editing/view";
import { bled, SIDES } from "../press/bleeds";
import { pixels, sheetSize } from "../ui/format";
import { room } from "../ui/room";
import { length } from "../ui/units";
import { t } from "../words";
import css from "./dispatch.module.css";
import { useUnitOf } from "./useUnitOf";

/** All sheets as they will print; only those in view are asked for. */
export function Pages({ state }: { state: View }) {
  const scroller = useRef<HTMLElement>(null);
  const { width_mm, height_mm, bleed_mm } = state.layout;
  const bleeds = bled(state.lab, width_mm, height_mm, bleed_mm ?? 0);
  const [left, top, right, bottom] = bleeds;
  const most = Math.max(...bleeds);
  const sides = SIDES.filter((_, index) => (bleeds[index] ?? 0) > 0);
  const unit = useUnitOf(state);
  const [printed, setPrinted] = useState(false);
  const list = useVirtualizer({
    count: state.sheets.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 480,
    getItemKey: (index) => state.sheets[index]?.id ?? index,
    overscan: 1,
  });
  return (
    <section className={css.sheets} aria-label={t("Pages as they will print")} ref={scroller}>
      <Checkbox
        className={css.printed}
        size="xs"
        label={t("On the press's paper")}
        checked={printed}
        onChange={(event) => setPrinted(event.currentTarget.checked)}
      />
      <div style={{ height: list.getTotalSize(), position: "relative" }}>
        {list.getVirtualItems().map(({ index, key, start }) => {
          const sheet = state.sheets[index];
          const here = index === state.at;
          return (
            sheet && (
              <figure
                key={key}
                ref={list.measureElement}
                data-index={index}
                style={{ position: "absolute", top: start, left: 0, right: 0 }}
              >
                <img
                  src={sheetPicture(
                    state.marks[index]?.key ?? "",
                    900,
                    false,
                    true,
                    printed ? "paper" : undefined,
                  )}
                  style={room(state.marks[index]?.ratio ?? 1, "min(820px, 100%)", "560px")}
                  alt={t("{name} as it will print", { name: sheet.name })}
                />
                <figcaption className="num">
                  <strong>{sheet.name}</strong>
                  {here && (
                    <>
                      {" "}
                      {sheetSize(width_mm, height_mm, state.folded)}
                      {`, ${
                        !most
                          ? t("no bleed")
                          : sides.length < 4
                            ? t("{bleed} bleed at the {sides}", {
                                bleed: length(most, unit),
                                sides: sides.join(", "),
                              })
                            : t("{bleed} bleed", { bleed: length(most, unit) })
                      }`}
                      {`: ${pixels(width_mm + left + right, state.lab.ppi_target)} × ${pixels(height_mm + top + bottom, state.lab.ppi_target)} px`}
                    </>
                  )}
                </figcaption>
              </figure>
            )
          );
        })}
      </div>
    </section>
  );
}
