import { Button, Popover } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import css from "./book.module.css";
import { choices, current, give } from "./layouts";

const FROM = {
  computed: "Suggested for these photos",
  book: "From this job",
  shelf: "From the shelf",
} as const;
const HIGH = 54;

/** The layouts that suit the photos on the sheet in view, drawn small; one click gives it to the sheet. */
export function Layouts({ state }: { state: View }) {
  const [open, setOpen] = useState(false);
  const { edit } = useChange(state);
  const layouts = useQuery({ ...choices(state), enabled: open });
  const all = layouts.data ?? [];
  const now = current(state, all);
  const ratio = state.layout.width_mm / state.layout.height_mm;
  if (!state.rows.length && !state.job.book) return null;
  return (
    <Popover
      position="bottom-end"
      withArrow
      shadow="md"
      opened={open}
      onChange={setOpen}
      trapFocus
      returnFocus
    >
      <Popover.Target>
        <Button variant="default" size="compact-sm" aria-expanded={open} onClick={() => setOpen(!open)}>
          Layouts
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <div className={css.layouts}>
          {layouts.data && !all.length && (
            <p className={css.note}>No other layout fits. Put photos on the sheet first.</p>
          )}
          {(["computed", "book", "shelf"] as const).map((source) => {
            const some = all.flatMap((one, which) => (one.source === source ? [{ one, which }] : []));
            return (
              some.length > 0 && (
                <section key={source}>
                  <h3>{FROM[source]}</h3>
                  <div>
                    {some.map(({ one, which }) => (
                      <button
                        key={which}
                        type="button"
                        aria-pressed={which === now}
                        aria-label={`Layout ${which + 1}, ${one.name}`}
                        title={one.name}
                        onClick={() => give(state, all, which, edit)}
                      >
                        <svg
                          width={HIGH * ratio}
                          height={HIGH}
                          viewBox={`0 0 ${ratio} 1`}
                          role="presentation"
                        >
                          <rect width={ratio} height="1" fill="#fff" />
                          {one.boxes.map((box) => {
                            const [x, y, w, h] = box;
                            return (
                              <rect
                                key={box.join(" ")}
                                x={x * ratio}
                                y={y}
                                width={w * ratio}
                                height={h}
                                fill="#8d8d8d"
                              />
                            );
                          })}
                        </svg>
                      </button>
                    ))}
                  </div>
                </section>
              )
            );
          })}
          <p className={css.note}>L gives the sheet the next one, Shift L the one before. Photos go along.</p>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
