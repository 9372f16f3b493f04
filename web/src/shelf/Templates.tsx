import { Button, SegmentedControl, TextInput } from "@mantine/core";
import IconPlus from "@tabler/icons-react/icons/IconPlus";
import IconSearch from "@tabler/icons-react/icons/IconSearch";
import { Suspense, useMemo, useState } from "react";
import { type TemplateCard, templatePicture } from "../api/client";
import { useTemplates } from "../api/queries";
import { sheetSize } from "../ui/format";
import { openMenuAt } from "../ui/menuAt";
import { NativeChoice } from "../ui/NativeChoice";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { t, tn } from "../words";
import { NewTemplate } from "./dialogs";
import { type Design, isMeant, sections } from "./finding";
import { MenuPlaceholder } from "./MenuPlaceholder";
import { MoreMenu } from "./menus";
import css from "./shelf.module.css";
import { useTemplateActions } from "./templateActions";

const COUNTS = [
  { value: "any", label: t("any number"), fits: () => true },
  { value: "1", label: t("one opening"), fits: (n: number) => n === 1 },
  { value: "few", label: t("2 to 6 openings"), fits: (n: number) => n > 1 && n <= 6 },
  { value: "many", label: t("7 openings or more"), fits: (n: number) => n > 6 },
];
const openings = (template: TemplateCard) => template.sheets.reduce((sum, sheet) => sum + sheet.openings, 0);

const RATIOS: [string, number][] = [
  ["1 : 1", 1], ["3 : 2", 1.5], ["2 : 3", 0.67], ["4 : 3", 1.33], ["3 : 4", 0.75], ["5 : 4", 1.25], ["4 : 5", 0.8], ["7 : 5", 1.4], ["5 : 7", 0.71],
]; // biome-ignore format: a table

/** Templates in their true proportions, to begin a job from, or to be made and altered. */
export function Templates({ onChoose }: { onChoose: (template: TemplateCard) => void }) {
  const templates = useTemplates();
  const [words, setWords] = useState("");
  const [product, setProduct] = useState("all");
  const [count, setCount] = useState("any");
  const [lie, setLie] = useState("any");
  const [ratio, setRatio] = useState("any");
  const [occasion, setOccasion] = useState("any");
  const [whose, setWhose] = useState("shelf");
  const [making, setMaking] = useState(false);
  const products = useMemo(
    () => [...new Set((templates.data ?? []).map((template) => template.product))].sort(),
    [templates.data],
  );
  const occasions = useMemo(
    () => [...new Set((templates.data ?? []).map((template) => template.occasion).filter(Boolean))].sort(),
    [templates.data],
  );
  const wanted = RATIOS.find(([label]) => label === ratio)?.[1];
  const shown = (templates.data ?? []).filter(
    (template) =>
      isIn(whose, template) &&
      (product === "all" || template.product === product) &&
      (occasion === "any" || template.occasion === occasion) &&
      (lie === "any" || template.orientation === lie) &&
      (wanted === undefined || (template.proportions ?? []).some((one) => Math.abs(one - wanted) < 0.03)) &&
      isMeant(template, words.trim()) &&
      COUNTS.find((entry) => entry.value === count)?.fits(openings(template)),
  );
  return (
    <section className={css.shelfSide} aria-label={t("Shelf")}>
      <div className={css.find}>
        <h2>{t("Shelf")}</h2>
        <TextInput
          size="xs"
          aria-label={t("Find a template")}
          placeholder={t("Name, occasion, size")}
          leftSection={<IconSearch size={14} />}
          value={words}
          onChange={(event) => setWords(event.currentTarget.value)}
        />
        <SegmentedControl
          size="xs"
          aria-label={t("Product")}
          value={product}
          onChange={setProduct}
          data={["all", ...products].map((value) => ({ value, label: value }))}
        />
        <NativeChoice
          label={t("Occasion")}
          value={occasion}
          onChange={setOccasion}
          data={["any", ...occasions].map((value) => ({
            value,
            label: value === "any" ? t("any occasion") : value,
          }))}
        />
      </div>
      <div className={css.find}>
        <NativeChoice
          label={t("Orientation")}
          value={lie}
          onChange={setLie}
          data={["any", "landscape", "portrait", "square"].map((value) => ({
            value,
            label: value === "any" ? t("any orientation") : value,
          }))}
        />
        <NativeChoice
          label={t("Number of openings")}
          value={count}
          onChange={setCount}
          data={COUNTS.map(({ value, label }) => ({ value, label }))}
        />
        <NativeChoice
          label={t("Ratio of an opening")}
          value={ratio}
          onChange={setRatio}
          data={["any", ...RATIOS.map(([label]) => label)].map((value) => ({
            value,
            label: value === "any" ? t("any ratio") : value,
          }))}
        />
        <NativeChoice
          label={t("Whose")}
          value={whose}
          onChange={setWhose}
          data={[
            { value: "shelf", label: t("all on the shelf") },
            { value: "favourites", label: t("favourites") },
            { value: "used", label: t("most used") },
            { value: "own", label: t("the studio's own") },
            { value: "archived", label: t("archived") },
          ]}
        />
        <Button
          ml="auto"
          variant="default"
          leftSection={<IconPlus size={14} />}
          onClick={() => setMaking(true)}
        >
          {t("New template")}
        </Button>
      </div>
      <div className={css.templates}>
        {sections(whose === "used" ? shown.toSorted((one, other) => other.used - one.used) : shown).map(
          ({ product: title, designs }) => (
            <section key={title} aria-label={title} className={css.section}>
              <h3>
                {title} <span className="num">{designs.length}</span>
              </h3>
              {designs.map((design) => (
                <TemplateSheet key={design.key} design={design} onChoose={onChoose} />
              ))}
            </section>
          ),
        )}
        {templates.data && shown.length === 0 && (
          <p>
            {whose === "archived"
              ? t("Nothing is archived.")
              : whose === "favourites"
                ? t("No favourite yet. A template's menu adds it here.")
                : t("No template fits all of this. Widen one of the choices.")}
          </p>
        )}
      </div>
      <Suspense>{making && <NewTemplate onClose={() => setMaking(false)} />}</Suspense>
    </section>
  );
}

function isIn(whose: string, template: TemplateCard) {
  if (whose === "archived" || template.archived) return whose === "archived" && template.archived;
  if (whose === "own") return template.own;
  if (whose === "favourites") return template.favourite;
  return whose !== "used" || template.used > 0;
}

/** Px of a mm: one scale for all sheets of a product, so that sizes compare at a glance. Pictures that ship are made for it. */
const SCALES: Partial<Record<TemplateCard["product"], number>> = { card: 0.85, mockup: 0.6 };

function TemplateSheet({ design, onChoose }: { design: Design; onChoose: (template: TemplateCard) => void }) {
  const template = design.sizes[0] as TemplateCard;
  const actions = useTemplateActions(design.sizes, size);
  const scale = SCALES[template.product] ?? 0.42;
  return (
    <article
      className={css.template}
      aria-label={template.name}
      onContextMenu={(event) =>
        openMenuAt(event, template.name, [
          { label: t("New job…"), run: () => onChoose(template) },
          ...actions,
        ])
      }
    >
      <button
        type="button"
        className={css.pages}
        onClick={() => onChoose(template)}
        aria-label={t("New job from {name}", { name: template.name })}
      >
        {template.sheets.map((sheet) => {
          const width = (sheet.width_mm + 2 * sheet.bleed_mm) * scale;
          const height = (sheet.height_mm + 2 * sheet.bleed_mm) * scale;
          return (
            <PictureWhenSeen
              key={sheet.id}
              src={templatePicture(template, sheet.id, Math.round(width * 2))}
              width={Math.round(width)}
              height={Math.round(height)}
              alt={sheet.name}
            />
          );
        })}
      </button>
      <div className={css.label}>
        <div>
          <strong>
            {template.favourite && <span title={t("Favourite")}>★ </span>}
            {template.name}
          </strong>
          <Suspense fallback={<MenuPlaceholder />}>
            <MoreMenu plain name={template.name} actions={actions} />
          </Suspense>
        </div>
        <span className="num">
          {template.occasion && `${template.occasion} · `}
          {design.sizes.length === 1 && `${size(template)} · `}
          {tn(openings(template), "{n} opening", "{n} openings")}
          {template.sheets.length > 1 ? ` · ${tn(template.sheets.length, "{n} sheet", "{n} sheets")}` : ""}
          {template.own
            ? ` · ${
                (template.revision ?? 1) > 1
                  ? t("the studio's, revision {revision}", { revision: template.revision })
                  : t("the studio's")
              }`
            : ""}
        </span>
        {design.sizes.length > 1 && (
          <span className={`num ${css.sizes}`}>
            {design.sizes.map((one) => (
              <button
                key={one.id}
                type="button"
                onClick={() => onChoose(one)}
                aria-label={t("{size}: new job from {name}", { size: size(one), name: one.name })}
              >
                {size(one)}
              </button>
            ))}
          </span>
        )}
      </div>
    </article>
  );
}

const size = ({ sheets: [first] }: TemplateCard) =>
  first ? sheetSize(first.width_mm, first.height_mm, first.folded_mm) : "";
