import { Button } from "@mantine/core";
import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import css from "./workshop.module.css";

/** Holes that a sheet is hung or bound by. */
export function Holes({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { layout } = state;
  const sheetSet = (fields: Record<string, unknown>) => edit({ op: "set_sheet", fields });
  const holes = layout.holes ?? [];
  return (
    <div className={side.group}>
      {holes.map((hole, n) => {
        const [x = 0, y = 0] = hole.at;
        const put = (fields: object) =>
          sheetSet({ holes: holes.map((one, k) => (k === n ? { ...one, ...fields } : one)) });
        return (
          <div className={css.figures} key={`${x} ${y}`}>
            <NumberField
              label={t("Hole {number}, across", { number: n + 1 })}
              unit="mm"
              value={x}
              onKeep={(x) => put({ at: [x, y] })}
            />
            <NumberField
              label={t("Hole {number}, down", { number: n + 1 })}
              unit="mm"
              value={y}
              onKeep={(y) => put({ at: [x, y] })}
            />
            <NumberField
              label={t("Hole {number}, diameter", { number: n + 1 })}
              unit="mm"
              min={0.5}
              max={100}
              value={hole.diameter_mm ?? 6}
              onKeep={(diameter_mm) => put({ diameter_mm })}
            />
          </div>
        );
      })}
      <div className={css.row}>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            sheetSet({
              holes: [...holes, { at: [layout.width_mm / 2, 8 + 10 * holes.length], diameter_mm: 6 }],
            })
          }
        >
          {t("Add punch hole")}
        </Button>
        {holes.length > 0 && (
          <Button size="compact-xs" variant="default" onClick={() => sheetSet({ holes: holes.slice(0, -1) })}>
            {t("Remove last hole")}
          </Button>
        )}
      </div>
    </div>
  );
}
