import { Button } from "@mantine/core";
import { useState } from "react";
import { answer, api, type Upright } from "../../api/client";
import { useChange } from "../../editing/changes";
import type { Held } from "../../editing/fitting";
import { LEVEL, standing } from "../../editing/standing";
import type { View } from "../../editing/view";
import { Dial } from "../../ui/Dial";
import { underWay } from "../../ui/underWay";
import { t } from "../../words";
import css from "./photoroom.module.css";

const DIALS: ["pitch_deg" | "yaw_deg" | "roll_deg" | "bend", string, number, string][] = [
  ["pitch_deg", t("Vertical tilt"), 25, "°"],
  ["yaw_deg", t("Horizontal tilt"), 25, "°"],
  ["roll_deg", t("Rotation"), 15, "°"],
  ["bend", t("Lens distortion"), 100, ""],
];

/** A leaning photo put upright wherever it lies, by the lines in it or by hand; the fit follows. */
export function Standing({ state, now }: { state: View; now: Held }) {
  const { edit } = useChange(state);
  const { photo } = now;
  const [busy, setBusy] = useState(false);
  const upright = standing(state, photo, now.row.opening);
  const set = (part: Partial<Upright>, gesture?: string) =>
    edit(
      (view) => {
        const mine = view.own.photo_tones?.[photo.id];
        const recipe = {
          steps: mine ? (mine.steps ?? null) : null,
          upright: { ...LEVEL, ...mine?.upright, ...part },
        };
        return { op: "mend_photo", photo: photo.id, recipe };
      },
      { gesture },
    );
  const find = async () => {
    setBusy(true);
    await underWay(async () =>
      set(
        await answer<Upright>(
          api.POST("/api/photos/{photo}/upright", { params: { path: { photo: photo.id } } }),
        ),
      ),
    );
    setBusy(false);
  };
  return (
    <fieldset>
      <legend>{t("Straighten perspective")}</legend>
      <div className={css.ratios}>
        <Button size="compact-xs" variant="default" loading={busy} onClick={find}>
          {t("Automatic")}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={DIALS.every(([name]) => !upright[name])}
          onClick={() => set(LEVEL)}
        >
          {t("Reset")}
        </Button>
      </div>
      {DIALS.map(([name, label, most, unit]) => (
        <Dial
          key={name}
          label={label}
          unit={unit}
          min={-most}
          max={most}
          step={name === "bend" ? 1 : 0.1}
          of={`Upright.${name}`}
          value={upright[name] ?? 0}
          onKeep={(value, gesture) => set({ [name]: value }, gesture)}
        />
      ))}
    </fieldset>
  );
}
