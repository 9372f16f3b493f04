import { useEffect, useState } from "react";
import { type Photo, thumb } from "../../api/client";
import { t } from "../../words";
import css from "./curve.module.css";

export type Channel = "all" | "red" | "green" | "blue";
export const CHANNELS: { value: Channel; label: string }[] = [
  { value: "all", label: t("All") },
  { value: "red", label: t("Red") },
  { value: "green", label: t("Green") },
  { value: "blue", label: t("Blue") },
];
/** Units of the plot along a side: values of a photo. */
export const SIDE = 255;

type Counts = Record<"red" | "green" | "blue", number[]>;

/** How often each value is in a photo as it came, in 64 steps, the most as 1; nothing until it is known. */
export function useCounts(photo: Photo): Counts | undefined {
  const [counts, setCounts] = useState<Counts>();
  const source = thumb(photo);
  useEffect(() => {
    let off = false;
    const image = new Image();
    image.src = source;
    image.decode().then(
      () => {
        const canvas = document.createElement("canvas");
        canvas.width = image.naturalWidth;
        canvas.height = image.naturalHeight;
        const context = canvas.getContext("2d", { willReadFrequently: true });
        if (off || !context) return;
        context.drawImage(image, 0, 0);
        const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
        const counts: Counts = { red: Array(64).fill(0), green: Array(64).fill(0), blue: Array(64).fill(0) };
        for (let n = 0; n < data.length; n += 4)
          for (const [k, name] of (["red", "green", "blue"] as const).entries()) {
            const step = (data[n + k] as number) >> 2;
            counts[name][step] = (counts[name][step] ?? 0) + 1;
          }
        setCounts(counts);
      },
      () => {}, // it is drawn without
    );
    return () => {
      off = true;
    };
  }, [source]);
  return counts;
}

/** How often each value is in a photo, of all colours or one. */
export function Histogram({ counts, channel }: { counts: Counts | undefined; channel: Channel }) {
  if (!counts) return null;
  const { red, green, blue } = counts;
  const sum = channel === "all" ? red.map((v, n) => v + (green[n] ?? 0) + (blue[n] ?? 0)) : counts[channel];
  // A few values that are everywhere, white paper for one, would leave nothing of the rest to be seen.
  const most = [...sum].sort((a, b) => b - a)[2] || 1;
  const tops = sum.map((v, n) => `L${n * 4} ${SIDE - 0.9 * SIDE * Math.min(1, v / most)}`).join(" ");
  return <path className={css.counts} d={`M0 ${SIDE} ${tops} L255 ${SIDE} Z`} />;
}
