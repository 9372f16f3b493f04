import { SegmentedControl } from "@mantine/core";
import { useState } from "react";
import type { Photo, Step } from "../../api/client";
import { Dial } from "../../ui/Dial";
import { t } from "../../words";
import css from "./curve.module.css";
import { CHANNELS, type Channel, Histogram, SIDE, useCounts } from "./Histogram";

type Levels = Extract<Step, { kind: "levels" }>;
const NEUTRAL = { black: 0, white: 255, gamma: 1 };
const DIALS = [
  ["black", t("Black"), 0, 254, 1],
  ["white", t("White"), 1, 255, 1],
  ["gamma", t("Midtones"), 0.1, 4, 0.01],
] as const;
const HIGH = 90;

/** Where black, white and the middle lie, for all colours or one, over how often each value is in the photo. */
export function LevelsEditor({
  photo,
  step,
  onChange,
}: {
  photo: Photo;
  step: Levels | undefined;
  onChange: (part: (now: Levels | undefined) => Partial<Levels>, gesture: string) => void;
}) {
  const [channel, setChannel] = useState<Channel>("all");
  const counts = useCounts(photo);
  const ends = (channel === "all" ? step : step?.[channel]) ?? NEUTRAL;
  const lineAt = (value: number) => `M${value} 0 V${HIGH}`;
  return (
    <div className={css.curve} data-channel={channel}>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={t("Channel")}
        value={channel}
        onChange={(value) => setChannel(value as Channel)}
        data={CHANNELS}
      />
      <svg
        viewBox={`0 0 ${SIDE} ${HIGH}`}
        className={css.levels}
        role="img"
        aria-label={t("How often each value is there")}
      >
        <g transform={`scale(1 ${HIGH / SIDE})`}>
          <Histogram counts={counts} channel={channel} />
        </g>
        <path d={`${lineAt(ends.black ?? 0)} ${lineAt(ends.white ?? 255)}`} />
      </svg>
      {DIALS.map(([field, label, min, max, by]) => (
        <Dial
          key={`${channel}-${field}`}
          label={label}
          min={min}
          max={max}
          step={by}
          of={`Ends.${field}`}
          value={ends[field] ?? NEUTRAL[field]}
          onKeep={(value, gesture) =>
            onChange(
              (now) =>
                channel === "all"
                  ? { [field]: value }
                  : { [channel]: { ...NEUTRAL, ...now?.[channel], [field]: value } },
              gesture,
            )
          }
        />
      ))}
    </div>
  );
}
