import { Button, SegmentedControl } from "@mantine/core";
import IconPlus from "@tabler/icons-react/icons/IconPlus";
import { useMemo, useState } from "react";
import { type TemplateCard, templatePicture } from "../api/client";
import { useTemplates } from "../api/queries";
import { Choice } from "../ui/Choice";
import { plural, sheetSize } from "../ui/format";
import css from "./shelf.module.css";

const COUNTS = [
  { value: "any", label: "any number of openings", fits: () => true },
  { value: "1", label: "one opening", fits: (n: number) => n === 1 },
  { value: "few", label: "2 to 6 openings", fits: (n: number) => n > 1 && n <= 6 },
  { value: "many", label: "7 openings or more", fits: (n: number) => n > 6 },
];
const openings = (template: TemplateCard) => template.sheets.reduce((sum, sheet) => sum + sheet.openings, 0);

/** Templates in their true proportions, to begin a job from. */
export function Templates({ onChoose }: { onChoose: (template: TemplateCard) => void }) {
  const templates = useTemplates();
  const [product, setProduct] = useState("all");
  const [count, setCount] = useState("any");
  const [lie, setLie] = useState("any");
  const products = useMemo(
    () => [...new Set((templates.data ?? []).map((template) => template.product))].sort(),
    [templates.data],
  );
  const shown = (templates.data ?? []).filter(
    (template) =>
      (product === "all" || template.product === product) &&
      (lie === "any" || template.orientation === lie) &&
      COUNTS.find((entry) => entry.value === count)?.fits(openings(template)),
  );
  return (
    <section className={css.shelfSide} aria-label="Shelf">
      <div className={css.find}>
        <h2>Shelf</h2>
        <SegmentedControl
          size="xs"
          aria-label="Product"
          value={product}
          onChange={setProduct}
          data={["all", ...products].map((value) => ({ value, label: value }))}
        />
      </div>
      <div className={css.find}>
        <Choice
          bare
          label="Orientation"
          value={lie}
          onChange={setLie}
          data={["any", "landscape", "portrait", "square"].map((value) => ({
            value,
            label: value === "any" ? "any orientation" : value,
          }))}
        />
        <Choice
          bare
          wide
          label="Number of openings"
          value={count}
          onChange={setCount}
          data={COUNTS.map(({ value, label }) => ({ value, label }))}
        />
      </div>
      <div className={css.templates}>
        {shown.map((template) => (
          <TemplateSheet key={template.id} template={template} onChoose={() => onChoose(template)} />
        ))}
        {templates.data && shown.length === 0 && <p>No template fits all three. Widen one of the choices.</p>}
      </div>
    </section>
  );
}

/** One scale for all sheets of the shelf: 1 mm is this many px, so sizes compare at a glance. */
const SCALE = 0.42;

function TemplateSheet({ template, onChoose }: { template: TemplateCard; onChoose: () => void }) {
  const [first] = template.sheets;
  return (
    <article className={css.template} aria-label={template.name}>
      <button
        type="button"
        className={css.pages}
        onClick={onChoose}
        aria-label={`Start a job from ${template.name}`}
      >
        {template.sheets.map((sheet) => {
          const width = (sheet.width_mm + 2 * sheet.bleed_mm) * SCALE;
          const height = (sheet.height_mm + 2 * sheet.bleed_mm) * SCALE;
          return (
            <img
              key={sheet.id}
              src={templatePicture(template.id, sheet.id, Math.round(width * 2))}
              width={Math.round(width)}
              height={Math.round(height)}
              alt={sheet.name}
              loading="lazy"
            />
          );
        })}
      </button>
      <div className={css.label}>
        <strong>{template.name}</strong>
        <span className="num">
          {template.product} · {first && sheetSize(first.width_mm, first.height_mm, first.folded_mm)} ·{" "}
          {plural(openings(template), "opening")}
          {template.sheets.length > 1 ? ` · ${template.sheets.length} sheets` : ""}
        </span>
        <Button variant="default" leftSection={<IconPlus size={14} />} onClick={onChoose}>
          Start a job
        </Button>
      </div>
    </article>
  );
}
