import { useEffect, useRef } from "react";
import type { Text } from "../api/client";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { apply } from "../geometry/placing";
import type { Seen } from "../stage/Stage";
import { brightness, seenColour } from "../ui/colour/colours";
import { useFocusBack } from "../ui/useFocusBack";
import { t } from "../words";
import { useFace } from "./families";
import css from "./lettering.module.css";
import { type Run, shifted } from "./runs";
import { asStyled } from "./StylePart";

interface Words {
  text: string;
  runs: readonly Run[];
}

const MM_PER_PT = 25.4 / 72;

/** Words typed where they stand, in their own letters. Escape or a click beside ends it; what was typed is kept. */
export function OnSheet({
  state,
  seen,
  box: stored,
  words,
  onKeep,
  onEnd,
}: {
  state: View;
  seen: Seen;
  box: Text;
  words: Words;
  onKeep: (words: Words, gesture: string) => void;
  onEnd: () => void;
}) {
  useFocusBack();
  const box = asStyled(state, stored);
  const area = useRef<HTMLTextAreaElement>(null);
  const { shown, change } = useKept<Words>(words, onKeep, 250);
  const face = useFace(box.font ?? "Lato", box.weight, !!box.slant, state.layout.fonts?.[box.font ?? "Lato"]);
  useEffect(() => {
    area.current?.focus();
    area.current?.select();
  }, []);
  const [x, y] = apply(seen.screenFromPage, box.centre);
  const [w, h] = [box.width_mm * seen.scale, box.height_mm * seen.scale];
  const size = (box.fit_pt?.[1] ?? box.size_pt ?? 12) * MM_PER_PT * seen.scale;
  const colour = seenColour(state, box.colour ?? "#222222");
  const bright = brightness(colour) > 150;
  return (
    <textarea
      ref={area}
      className={css.onSheet}
      aria-label={t("Words of {name}, on the sheet", { name: box.name || t("this box") })}
      maxLength={5000}
      value={shown.text}
      style={{
        left: x - w / 2,
        top: y - h / 2,
        width: w,
        height: h,
        transform: `rotate(${-(box.turn_deg ?? 0)}deg)`,
        padding: (box.inset_mm ?? 0) * seen.scale,
        fontFamily: face,
        fontSize: size,
        lineHeight: box.leading ?? 1.25,
        letterSpacing: `${(box.tracking ?? 0) / 1000}em`,
        textAlign: box.align === "centre" ? "center" : box.align === "justified" ? "justify" : box.align,
        textTransform: box.caps === "capitals" ? "uppercase" : undefined,
        fontVariantCaps: box.caps === "small" ? "small-caps" : undefined,
        alignContent: { top: "start", middle: "center", bottom: "end" }[box.stand ?? "middle"],
        color: colour,
        background: bright ? "rgba(40, 40, 40, 0.97)" : "rgba(255, 255, 255, 0.97)",
      }}
      onChange={(event) => {
        const text = event.currentTarget.value;
        change({ text, runs: shifted(shown.runs, shown.text, text) });
      }}
      onPointerDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape" || (event.key === "Enter" && (event.ctrlKey || event.metaKey))) {
          event.preventDefault();
          onEnd();
        }
      }}
      onBlur={onEnd}
    />
  );
}
