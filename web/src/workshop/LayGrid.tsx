import { Checkbox } from "@mantine/core";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import css from "./workshop.module.css";

/** The grid of a sheet that things are laid on: columns, rows, gutter, margin. */
export function LayGrid({ state }: { state: View }) {
  const { edit } = useChange(state);
  const sheetSet = (fields: Record<string, unknown>) => edit({ op: "set_sheet", fields });
  const net = state.layout.columns;
  return (
    <>
      <Checkbox
        size="xs"
        label={t("Show grid")}
        checked={!!net}
        onChange={(event) => sheetSet({ columns: event.currentTarget.checked ? {} : null })}
      />
      {net && (
        <div className={css.figures}>
          <NumberField
            label={t("Columns")}
            min={1}
            max={48}
            value={net.columns ?? 12}
            onKeep={(columns) => sheetSet({ "columns.columns": columns })}
          />
          <NumberField
            label={t("Rows")}
            min={1}
            max={48}
            value={net.rows ?? 8}
            onKeep={(rows) => sheetSet({ "columns.rows": rows })}
          />
          <NumberField
            label={t("Gutter")}
            unit="mm"
            min={0}
            max={500}
            value={net.gutter_mm ?? 4}
            onKeep={(mm) => sheetSet({ "columns.gutter_mm": mm })}
          />
          <NumberField
            label={t("Margin")}
            unit="mm"
            min={0}
            max={1000}
            value={net.margin_mm ?? 12}
            onKeep={(mm) => sheetSet({ "columns.margin_mm": mm })}
          />
        </div>
      )}
    </>
  );
}
