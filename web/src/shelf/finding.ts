/** Finding a template by words: its name, occasion, tags, note, and any way of writing its size. */
import type { TemplateCard } from "../api/client";
import { sheetSize } from "../ui/format";
import { t } from "../words";

const MM = { in: 25.4, cm: 10, mm: 1 } as const;
const SIZE = /(\d+(?:[.,]\d+)?)\s*(?:x|×|\*|by)\s*(\d+(?:[.,]\d+)?)\s*(in(?:ch(?:es)?)?|"|cm|mm)?/i;
const TOLERANCE = 0.02;

/** A size that was typed, in every unit that it may mean, mm; undefined where none was. "5x7", "30 x 20 cm", "12 × 12 in". */
export function typedSizes(words: string): { sizes: [number, number][]; rest: string } | undefined {
  const match = SIZE.exec(words);
  if (!match) return undefined;
  const [width, height] = [match[1], match[2]].map((number) => Number((number ?? "").replace(",", ".")));
  const said = (match[3] ?? "").toLowerCase();
  const units: (keyof typeof MM)[] =
    said === "cm" || said === "mm" ? [said] : said ? ["in"] : ["in", "cm", "mm"];
  return {
    sizes: units.map((unit) => [(width ?? 0) * MM[unit], (height ?? 0) * MM[unit]]),
    rest: words.replace(match[0], " ").trim(),
  };
}

const isNear = (one: number, other: number) => Math.abs(one - other) <= TOLERANCE * other;

/** Whether one of its sheets is of a size, either way round: open, folded, or a page of a spread. */
function hasSize(template: TemplateCard, [width, height]: [number, number]) {
  return template.sheets.some((sheet) => {
    const page: [number, number][] =
      template.product === "album" ? [[sheet.width_mm / 2, sheet.height_mm]] : [];
    const folded: [number, number][] = sheet.folded_mm
      ? [[sheet.folded_mm[0] ?? 0, sheet.folded_mm[1] ?? 0]]
      : [];
    return [[sheet.width_mm, sheet.height_mm] as [number, number], ...page, ...folded].some(
      ([w, h]) => (isNear(w, width) && isNear(h, height)) || (isNear(w, height) && isNear(h, width)),
    );
  });
}

/** Whether a template is what a person looks for: all words, and the size if one was typed. */
export function isMeant(template: TemplateCard, words: string): boolean {
  const typed = typedSizes(words);
  if (typed && !typed.sizes.some((size) => hasSize(template, size))) return false;
  const [first] = template.sheets;
  const text = [
    template.name,
    template.product,
    template.occasion,
    template.note,
    ...(template.tags ?? []),
    first ? sheetSize(first.width_mm, first.height_mm, first.folded_mm) : "",
  ]
    .join(" ")
    .toLowerCase();
  return (typed ? typed.rest : words)
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

/** One design in all its sizes, as the shelf shows it; templates of the studio's own stand by themselves. */
export type Design = { key: string; sizes: TemplateCard[] };
export type Section = { product: string; designs: Design[] };

/** Templates by product, sizes of one design together; the studio's own in a section before all others. */
export function sections(templates: readonly TemplateCard[]): Section[] {
  const byProduct = new Map<string, Map<string, TemplateCard[]>>();
  for (const template of templates) {
    const product = template.own ? t("the studio's own") : template.product;
    const designs = byProduct.get(product) ?? new Map<string, TemplateCard[]>();
    const key = template.own ? template.id : template.name;
    designs.set(key, [...(designs.get(key) ?? []), template]);
    byProduct.set(product, designs);
  }
  return [...byProduct].map(([product, designs]) => ({
    product,
    designs: [...designs].map(([key, sizes]) => ({ key, sizes: sizes.toSorted(bySize) })),
  }));
}

const bySize = (one: TemplateCard, other: TemplateCard) => area(one) - area(other);
const area = ({ sheets: [first] }: TemplateCard) => (first ? first.width_mm * first.height_mm : 0);
