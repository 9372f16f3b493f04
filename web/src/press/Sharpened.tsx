import { Switch } from "@mantine/core";
import { useState } from "react";
import { type LabSheet, sheetPicture } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { room } from "../ui/room";
import { t } from "../words";
import css from "./press.module.css";

const HOWS = [
  { value: "none", label: t("None") },
  { value: "low", label: t("Low") },
  { value: "standard", label: t("Standard") },
  { value: "high", label: t("High") },
] as const;
const SIDE = 480;

/** A place of the sheet at the lab's ppi, side by side as each way of sharpening would print it; the place is pointed at. */
export function Sharpened({
  sheetKey,
  lab,
  size,
  onChoose,
  onClose,
}: {
  sheetKey: string;
  lab: LabSheet;
  /** Width, height and bleed of the sheet, mm. */
  size: [number, number, number];
  onChoose: (how: NonNullable<LabSheet["sharpen"]>) => void;
  onClose: () => void;
}) {
  const [wide, high, bleed] = size;
  const [at, setAt] = useState<[number, number]>([wide * 0.72, high * 0.4]);
  const [pixels, setPixels] = useState(false);
  const [x, y] = at;
  const mm = (SIDE / lab.ppi_target) * 25.4;
  return (
    <Dialog onClose={onClose} title={t("Sharpening side by side")} size="min(1100px, 96vw)">
      <div className={css.sharp}>
        <button
          type="button"
          className={css.place}
          style={room((wide + 2 * bleed) / (high + 2 * bleed), "100%", "190px")}
          aria-label={t("Choose a place of the sheet")}
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            setAt([
              ((event.clientX - box.left) / box.width) * (wide + 2 * bleed) - bleed,
              ((event.clientY - box.top) / box.height) * (high + 2 * bleed) - bleed,
            ]);
          }}
        >
          <img src={sheetPicture(sheetKey, 700)} alt={t("The sheet")} />
          <span
            style={{
              left: `${((x + bleed - mm / 2) / (wide + 2 * bleed)) * 100}%`,
              top: `${((y + bleed - mm / 2) / (high + 2 * bleed)) * 100}%`,
              width: `${(mm / (wide + 2 * bleed)) * 100}%`,
              height: `${(mm / (high + 2 * bleed)) * 100}%`,
            }}
          />
        </button>
        <Switch
          size="xs"
          label={t("100 %, larger than it prints")}
          checked={pixels}
          onChange={(event) => setPixels(event.currentTarget.checked)}
        />
        <div className={css.hows}>
          {HOWS.map(({ value, label }) => (
            <figure key={value}>
              <button
                type="button"
                aria-pressed={(lab.sharpen ?? "none") === value}
                onClick={() => onChoose(value)}
              >
                <img
                  style={{ width: pixels ? SIDE : `${mm}mm` }}
                  src={`/api/drawn/${sheetKey}/printed?x=${x.toFixed(2)}&y=${y.toFixed(2)}&side=${SIDE}&how=${value}&surface=${
                    lab.surface ?? "glossy"
                  }`}
                  alt={t("{label}, as it prints", { label })}
                />
                <span>{label}</span>
              </button>
            </figure>
          ))}
        </div>
        <p className={css.note}>
          {t(
            "{side} px at {ppi_target} ppi on {surface} paper. Photos alone are sharpened, in their light; words and ornaments never.",
            { side: SIDE, ppi_target: lab.ppi_target, surface: lab.surface ?? t("glossy") },
          )}
        </p>
      </div>
    </Dialog>
  );
}
