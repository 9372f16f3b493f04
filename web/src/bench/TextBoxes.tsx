import { type MouseEvent, type PointerEvent, useState } from "react";
import type { Text } from "../api/client";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import type { Seen } from "../stage/Stage";
import css from "../stage/stage.module.css";
import { follow } from "../ui/follow";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";

const STARTS_PX = 4;

/** The text boxes of a sheet: selected, written in, pulled to another place. */
export function TextBoxes({
  state,
  texts,
  seen: { scale },
  isBare,
  onMenu,
}: {
  state: View;
  texts: readonly Text[];
  seen: Seen;
  isBare: (text: Text) => boolean;
  onMenu: (event: MouseEvent, text: Text) => void;
}) {
  const { selected, set } = usePicked(useBench, "selected", "set");
  const { edit } = useChange(state);
  const [pull, setPull] = useState<{ id: string; by: [number, number] }>();
  const bleed = state.layout.bleed_mm;
  const write = (text: Text) => set({ selected: text.id, ...(!text.content_locked && { writing: text.id }) });

  const press = (event: PointerEvent<SVGGElement>, text: Text) => {
    event.stopPropagation();
    set({ selected: text.id });
    if (event.button !== 0 || text.place_locked) return;
    const from = [event.clientX, event.clientY] as const;
    let by: [number, number] = [0, 0];
    follow(
      event,
      ({ clientX, clientY }) => {
        const moved: [number, number] = [clientX - from[0], clientY - from[1]];
        if (!by[0] && !by[1] && Math.hypot(...moved) < STARTS_PX) return;
        by = moved.map((px) => Math.round((px / scale) * 10) / 10) as [number, number];
        setPull({ id: text.id, by });
      },
      () => {
        setPull(undefined);
        if (by[0] || by[1]) edit({ op: "carry", layers: [text.id], by });
      },
      () => setPull(undefined),
    );
  };

  return texts.map((text) => {
    const [right, down] = pull?.id === text.id ? pull.by : [0, 0];
    const [x = 0, y = 0] = text.centre;
    const [left, top] = [(bleed + x + right) * scale, (bleed + y + down) * scale];
    return (
      <g
        key={text.id}
        role="button"
        tabIndex={0}
        aria-label={t("Words: {name}", { name: text.name || t("text") })}
        data-layer={text.id}
        className={css.text}
        data-selected={selected === text.id || undefined}
        data-bare={isBare(text) ? "" : undefined}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          event.stopPropagation();
          write(text);
        }}
        onDoubleClick={(event) => {
          event.stopPropagation();
          write(text);
        }}
        onPointerDown={(event) => press(event, text)}
        onContextMenu={(event) => onMenu(event, text)}
        onFocus={(event) =>
          selected !== text.id && event.currentTarget.matches(":focus-visible") && set({ selected: text.id })
        }
      >
        <rect
          x={-(text.width_mm * scale) / 2}
          y={-(text.height_mm * scale) / 2}
          width={text.width_mm * scale}
          height={text.height_mm * scale}
          transform={`translate(${left} ${top}) rotate(${-(text.turn_deg ?? 0)})`}
        />
      </g>
    );
  });
}
