import { useWindowEvent } from "@mantine/hooks";
import { useRef } from "react";
import { thumb } from "../api/client";
import { held } from "../editing/fitting";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./bench.module.css";

/** What the hand holds follows the pointer. */
export function InHand({ state }: { state: View }) {
  const hand = useBench((bench) => bench.hand);
  const box = useRef<HTMLDivElement>(null);
  useWindowEvent("pointermove", (event) => {
    if (!box.current) return;
    box.current.style.transform = `translate(${event.clientX + 14}px, ${event.clientY + 14}px)`;
    box.current.style.visibility = "visible";
  });
  const photo =
    hand?.kind === "photos"
      ? state.photo.get(hand.photos[0] ?? "")
      : hand && held(state, hand.opening)?.photo;
  if (!photo) return null;
  return (
    <div className={css.hand} ref={box} role="status">
      <img src={thumb(photo)} alt={t("Picked up: {name}", { name: photo.name })} />
      <span className="num">
        {hand?.kind === "photos" && hand.photos.length > 1
          ? t(
              "Placing {photos} photos. X skips, a click beside openings adds them to the sheet, Esc cancels.",
              { photos: hand.photos.length },
            )
          : t("Click an opening, or the paper beside to add it. Esc cancels.")}
      </span>
    </div>
  );
}
