import { Checkbox } from "@mantine/core";
import type { DateGrid } from "../api/client";
import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { ColourField } from "../ui/colour/ColourField";
import { Dial } from "../ui/Dial";
import { t } from "../words";
import { FontChooser } from "./FontChooser";
import { familyOf, useFamilies, WEIGHTS } from "./families";
import css from "./lettering.module.css";

const SHOWS = [
  { value: "month", label: t("weeks") },
  { value: "strip", label: t("a row") },
  { value: "list", label: t("a list") },
  { value: "year", label: t("a year") },
];
const KINDS = [
  ["title", t("Colour of the month")],
  ["day", t("Colour of the days")],
  ["weekend", t("Colour of the weekend")],
  ["sunday", t("Colour of Sundays")],
  ["holiday", t("Colour of holidays")],
] as const;

/** A date grid: what it shows, of which month, and how. */
export function DatesPart({ state, grid }: { state: View; grid: DateGrid }) {
  const { edit } = useChange(state);
  const families = useFamilies();
  const set = (fields: Record<string, unknown>, gesture?: string) =>
    edit({ op: "set_fields", layers: [grid.id], fields, expect: {} }, { gesture });
  const weights = families.data?.find((one) => one.name === familyOf(grid.font ?? "Lato"))?.weights ?? [];
  const whole = grid.shows === "month" || grid.shows === "year";
  const tick = (field: keyof DateGrid, label: string) => (
    <Checkbox
      size="xs"
      label={label}
      checked={!!grid[field]}
      onChange={(event) => set({ [field]: event.currentTarget.checked })}
    />
  );
  return (
    <div className={side.group}>
      <div className={css.pair}>
        <Choice
          label={t("Shows")}
          value={grid.shows ?? "month"}
          data={SHOWS}
          onChange={(shows) => set({ shows })}
        />
        {grid.shows !== "year" && (
          <Choice
            label={t("Of")}
            value={String(grid.offset ?? 0)}
            data={[
              { value: "-1", label: t("before") },
              { value: "0", label: t("month") },
              { value: "1", label: t("after") },
            ]}
            onChange={(offset) => set({ offset: Number(offset) })}
          />
        )}
        {whole && (
          <Choice
            label={t("Week starts on")}
            value={grid.first_day ?? "locale"}
            data={[
              { value: "locale", label: t("as in the language") },
              { value: "monday", label: t("Monday") },
              { value: "sunday", label: t("Sunday") },
              { value: "saturday", label: t("Saturday") },
            ]}
            onChange={(first_day) => set({ first_day })}
          />
        )}
        {grid.shows === "month" && (
          <Choice
            label={t("Rows")}
            value={grid.weeks ?? "fit"}
            data={[
              { value: "fit", label: t("as needed") },
              { value: "six", label: t("six") },
              { value: "five", label: t("five") },
            ]}
            onChange={(weeks) => set({ weeks })}
          />
        )}
        {whole && (
          <Choice
            label={t("Others")}
            value={grid.neighbours ?? "faint"}
            data={[
              { value: "none", label: t("left out") },
              { value: "faint", label: t("faint") },
              { value: "shown", label: t("shown") },
            ]}
            onChange={(neighbours) => set({ neighbours })}
          />
        )}
        <Choice
          label={t("Weekdays")}
          value={grid.weekdays ?? "short"}
          data={["none", "narrow", "short", "long"]}
          onChange={(weekdays) => set({ weekdays })}
        />
        {grid.shows !== "year" && (
          <Choice
            label={t("Heading")}
            value={grid.heading ?? "month_year"}
            data={[
              { value: "none", label: t("none") },
              { value: "month", label: t("month") },
              { value: "month_year", label: t("with year") },
            ]}
            onChange={(heading) => set({ heading })}
          />
        )}
        {grid.shows === "month" && (
          <Choice
            label={t("Figures")}
            value={grid.figure ?? "centre"}
            data={[
              { value: "centre", label: t("middle") },
              { value: "corner", label: t("corner") },
            ]}
            onChange={(figure) => set({ figure })}
          />
        )}
      </div>
      <div className={css.ticks}>
        {tick("holidays", t("Colour holidays"))}
        {tick("holiday_names", t("Holiday names"))}
        {tick("dates", t("The customer's dates"))}
        {grid.shows === "month" && tick("week_numbers", t("Week numbers"))}
        {grid.shows === "month" && tick("moon", t("The moon"))}
        {tick("perpetual", t("For any year: no weekdays"))}
      </div>
      <FontChooser
        state={state}
        value={grid.font ?? "Lato"}
        onChange={(font) => set({ font, weight: null })}
      />
      <div className={css.pair}>
        <Choice
          label={t("Weight")}
          value={String(grid.weight ?? 0)}
          data={[
            { value: "0", label: t("Regular") },
            ...weights.map((weight) => ({ value: String(weight), label: WEIGHTS[weight] ?? String(weight) })),
          ]}
          onChange={(weight) => set({ weight: Number(weight) || null })}
        />
      </div>
      <Dial
        label={t("Figures")}
        min={4}
        max={60}
        step={0.5}
        unit="pt"
        of="DateGrid.size_pt"
        value={grid.size_pt ?? 14}
        onKeep={(size_pt, g) => set({ size_pt }, g)}
      />
      <Dial
        label={t("Date text")}
        min={3}
        max={20}
        step={0.5}
        unit="pt"
        of="DateGrid.dates_pt"
        value={grid.dates_pt ?? 6}
        onKeep={(dates_pt, g) => set({ dates_pt }, g)}
      />
      <Dial
        label={t("Gap")}
        min={0}
        max={10}
        step={0.5}
        unit="mm"
        of="DateGrid.gap_mm"
        value={grid.gap_mm ?? 0}
        onKeep={(gap_mm, g) => set({ gap_mm }, g)}
      />
      <Checkbox
        size="xs"
        mt={8}
        label={t("Ruled lines")}
        checked={!!grid.line}
        onChange={(event) =>
          set({ line: event.currentTarget.checked ? { width_mm: 0.1, colour: "#8a8a8a" } : null })
        }
      />
      {grid.line && (
        <ColourField
          state={state}
          bare
          label={t("Colour of the lines")}
          value={grid.line.colour ?? "#8a8a8a"}
          onChange={(colour) => set({ "line.colour": colour })}
        />
      )}
      <details className={css.more}>
        <summary>{t("Colours")}</summary>
        {KINDS.map(([field, label]) => (
          <ColourField
            key={field}
            state={state}
            label={label}
            value={grid[field]?.colour ?? "#222222"}
            onChange={(colour) => set({ [`${field}.colour`]: colour })}
          />
        ))}
      </details>
    </div>
  );
}
