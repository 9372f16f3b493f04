import { Button, Checkbox, SegmentedControl, Select, Stack } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { useEffect, useState } from "react";
import { type Edit, previewOf } from "../api/client";
import { type Said, useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { pageSize } from "../ui/format";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import css from "./workshop.module.css";

/** Sizes of the trade, mm. */
const SIZES: readonly [number, number][] = [
  [304.8, 304.8], [254, 254], [203.2, 203.2], [203.2, 254], [254, 203.2], [127, 177.8], [177.8, 127], [101.6, 152.4],
  [152.4, 101.6], [203.2, 304.8], [304.8, 203.2], [609.6, 304.8], [508, 254], [210, 297], [297, 210], [297, 420],
]; // biome-ignore format: a table

/** The sheet laid out in another size, seen before it is kept. */
export function AnotherSize({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const { layout } = state;
  const [size, setSize] = useState<[number, number]>([layout.width_mm, layout.height_mm]);
  const [how, setHow] = useState<"auto" | "fill" | "ratios">("auto");
  const [all, setAll] = useState(state.sheets.length > 1);
  const [asked] = useDebouncedValue(`${size.join()} ${how}`, 150);
  const [picture, setPicture] = useState("");
  const [said, setSaid] = useState("");
  const saidOf = (sheet: string): Said => ({
    op: "resize_sheet",
    sheet,
    width_mm: size[0],
    height_mm: size[1],
    how,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked says it all
  useEffect(() => {
    const asking = new AbortController();
    const { signal } = asking;
    previewOf(state.id, state.sheet.id, saidOf(state.sheet.id) as Edit, 700, { signal })
      .then((template) => {
        if (signal.aborted) return URL.revokeObjectURL(template);
        setSaid("");
        setPicture(template);
      })
      .catch((error: Error) => !signal.aborted && setSaid(error.message));
    return () => asking.abort();
  }, [asked, state.key]);
  useEffect(() => () => URL.revokeObjectURL(picture), [picture]);
  const keep = () => {
    const gesture = `size-${crypto.randomUUID()}`;
    for (const sheet of all ? state.sheets : [state.sheet]) edit(saidOf(sheet.id), { gesture });
    onClose();
  };
  return (
    <Dialog onClose={onClose} centered size={620} title={t("Another size")}>
      <Stack gap="sm">
        <div className={css.sizes}>
          <Select
            size="xs"
            label={t("Size")}
            placeholder={t("custom")}
            value={SIZES.find(([w, h]) => w === size[0] && h === size[1])?.join() ?? null}
            onChange={(value) => value && setSize(value.split(",").map(Number) as [number, number])}
            data={SIZES.map(([w, h]) => ({ value: `${w},${h}`, label: pageSize(w, h) }))}
          />
          <NumberField
            label={t("Width")}
            unit="mm"
            min={20}
            max={5000}
            value={size[0]}
            onKeep={(w) => setSize([w, size[1]])}
          />
          <NumberField
            label={t("Height")}
            unit="mm"
            min={20}
            max={5000}
            value={size[1]}
            onKeep={(h) => setSize([size[0], h])}
          />
        </div>
        <SegmentedControl
          size="xs"
          aria-label={t("Method")}
          value={how}
          onChange={setHow}
          data={[
            { value: "auto", label: t("Fill it, shapes kept") },
            { value: "fill", label: t("Stretch to fill") },
            { value: "ratios", label: t("Openings keep their ratio") },
          ]}
        />
        <p className={css.hint}>
          {t("Margins, gaps, frames and type keep their real sizes. Photos keep their fit.")}
        </p>
        <div className={css.seen}>
          {said ? (
            <p role="alert">{said}</p>
          ) : (
            picture && <img src={picture} alt={t("The sheet in its new size")} />
          )}
        </div>
        {state.sheets.length > 1 && (
          <Checkbox
            size="xs"
            label={t("All {sheets} sheets", { sheets: state.sheets.length })}
            checked={all}
            onChange={(event) => setAll(event.currentTarget.checked)}
          />
        )}
        <Answer>
          <Button variant="default" onClick={onClose}>
            {t("Cancel")}
          </Button>
          <Button
            disabled={!!said || (size[0] === layout.width_mm && size[1] === layout.height_mm)}
            onClick={keep}
          >
            {t("Apply")}
          </Button>
        </Answer>
      </Stack>
    </Dialog>
  );
}
