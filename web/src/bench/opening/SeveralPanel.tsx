import { Button, Checkbox } from "@mantine/core";
import { useState } from "react";
import { spot, useChange } from "../../editing/changes";
import { allSelected, useBench } from "../../editing/store";
import { openingOf, type View } from "../../editing/view";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import { useClear } from "../clearing";
import css from "../side.module.css";
import { FramePart } from "./FramePart";

const MOST_NUMBERS = 8;

/** What can be done to several openings at once. */
export function SeveralPanel({ state }: { state: View }) {
  const { selected, also, set } = usePicked(useBench, "selected", "also", "set");
  const { edit } = useChange(state);
  const clear = useClear(state);
  const openings = allSelected({ selected, also });
  const rows = state.rows.filter((row) => openings.includes(row.opening));
  const layers = openings.flatMap((opening) => openingOf(state, opening) ?? []);
  const filled = rows.filter((row) => row.photo).map((row) => row.opening);
  const pinned = rows.every((row) => row.pinned);
  const [first = "", second = ""] = openings;
  const worked = (recipe: null) =>
    filled.forEach((opening) => {
      edit({ op: "mend_opening", opening, recipe }, { gesture: `plain-${openings.join()}` });
    });
  return (
    <section className={css.panel} aria-label={t("{openings} openings", { openings: openings.length })}>
      <h3>
        {t("{openings} openings", { openings: openings.length })}
        {rows.length <= MOST_NUMBERS && (
          <small className="num">{rows.map((row) => row.number).join(", ")}</small>
        )}
      </h3>
      <div className={css.many}>
        <Button variant="default" onClick={() => edit({ op: "span", openings })}>
          {t("Spread one photo across")}
        </Button>
        <Button
          variant="default"
          disabled={openings.length !== 2 || !filled.length}
          onClick={() =>
            edit({ op: "swap", first: spot(state, first), second: spot(state, second), keep_fit: false })
          }
        >
          {t("Swap")}
        </Button>
        <Button
          variant="default"
          onClick={() =>
            edit({
              op: "fill",
              how: "best",
              only_empty: false,
              also_by_hand: true,
              sheet: state.sheet.id,
              openings,
            })
          }
        >
          {t("Fill selected")}
        </Button>
        <Button
          variant="default"
          disabled={!filled.length}
          onClick={() => edit({ op: "keep_in_view", openings: filled })}
        >
          {t("Show keep areas in frame")}
        </Button>
        <Button variant="default" onClick={() => edit({ op: "pin", openings, pinned: !pinned })}>
          {pinned ? t("Unpin") : t("Pin")}
        </Button>
        <Button
          variant="default"
          disabled={!filled.some((opening) => state.filling.tones?.[opening])}
          onClick={() => worked(null)}
        >
          {t("Reset adjustments")}
        </Button>
        <Button variant="default" disabled={!filled.length} onClick={() => clear(filled)}>
          {t("Clear")}
        </Button>
        <Button variant="subtle" onClick={() => set({ selected: undefined })}>
          {t("Select none")}
        </Button>
      </div>
      <Looks state={state} openings={openings} />
      <details className={css.more}>
        <summary>{t("Frame")}</summary>
        <FramePart key={openings.join()} state={state} layers={layers} />
      </details>
    </section>
  );
}

/** What one opening can give to others, and how it is said. */
const LOOKS = [
  ["border", t("Border")],
  ["mat", t("Mat")],
  ["shadow", t("Shadow")],
  ["outline", t("Outline and size")],
  ["tone", t("Tone")],
  ["fit", t("Zoom and turn")],
] as const;
type Look = (typeof LOOKS)[number][0];

/** One look for many: what is ticked of the first opening selected, given to the others. */
function Looks({ state, openings }: { state: View; openings: string[] }) {
  const { edit } = useChange(state);
  const [chosen, setChosen] = useState<Look[]>(["border", "mat", "shadow"]);
  const [from = "", ...others] = openings;
  const row = state.rows.find((entry) => entry.opening === from);
  const layer = openingOf(state, from);
  if (!row || !layer || !others.length) return null;
  const give = () => {
    const gesture = `look-${crypto.randomUUID()}`;
    const fields: Record<string, unknown> = {};
    for (const name of ["border", "mat", "shadow", "outline"] as const)
      if (chosen.includes(name)) fields[name] = layer[name] ?? null;
    if (Object.keys(fields).length)
      edit({ op: "set_fields", layers: others, fields, expect: {} }, { gesture });
    // As it is seen: mended in this opening, or wherever its photo lies.
    const steps = state.filling.tones?.[from]?.steps ?? state.own.photo_tones?.[row.photo ?? ""]?.steps;
    const recipe = { steps: steps ?? null };
    for (const other of state.rows.filter((entry) => others.includes(entry.opening) && entry.photo)) {
      if (chosen.includes("tone")) edit({ op: "mend_opening", opening: other.opening, recipe }, { gesture });
      if (chosen.includes("fit") && row.placement && other.placement)
        edit(
          {
            op: "place",
            opening: other.opening,
            fit: row.placement.fit,
            centre: other.placement.centre,
            zoom: row.placement.zoom,
            turn_deg: row.placement.turn_deg,
            mirror: other.placement.mirror,
            ratio: row.placement.ratio ?? null,
          },
          { gesture },
        );
    }
  };
  return (
    <fieldset className={css.looks}>
      <legend>{t("Copy look from opening {number}", { number: row.number })}</legend>
      {LOOKS.map(([name, label]) => (
        <Checkbox
          key={name}
          size="xs"
          label={label}
          checked={chosen.includes(name)}
          onChange={(event) =>
            setChosen(event.currentTarget.checked ? [...chosen, name] : chosen.filter((n) => n !== name))
          }
        />
      ))}
      <Button size="xs" variant="default" disabled={!chosen.length} onClick={give}>
        {t("Apply to the other {others}", { others: others.length })}
      </Button>
    </fieldset>
  );
}
