import { Button, Checkbox, Progress, Slider } from "@mantine/core";
import { useRef, useState } from "react";
import { type SeenSheet, thumb } from "../api/client";
import { useThemes } from "../api/queries";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Dialog } from "../ui/Dialog";
import { trimmed } from "../ui/format";
import { NumberField } from "../ui/NumberField";
import { t, tn } from "../words";
import css from "./book.module.css";
import { Styles } from "./Styles";
import { type Dials, usePlan } from "./usePlan";

/** Lays the whole book out, or the sheets selected: shown as it would be, kept as one step. */
export function LayOut({ state, sheets, onClose }: { state: View; sheets?: string[]; onClose: () => void }) {
  const { edit } = useChange(state);
  const themes = useThemes();
  const bound = state.job.book?.binding;
  const photos = state.photos.filter((photo) => !photo.aside).length;
  const [wishes, setWishes] = useState<Dials>(() => first(state, photos));
  const whole = !sheets?.length;
  const theme = themes.data?.find((one) => one.id === state.job.book?.theme) ?? null;
  const stretch = useRef(sheets);
  const { seen, isFresh, progress, failure, askAgain } = usePlan(state, wishes, stretch.current);
  const set = (fields: Partial<Dials>) => setWishes({ ...wishes, ...fields });
  const keep = () => {
    if (!seen) return;
    edit({
      op: "lay_book",
      plan: seen.plan,
      sheets: stretch.current?.length ? stretch.current : null,
      theme,
    });
    onClose();
  };
  const aside = seen?.plan.aside ?? [];
  let laid = 0;
  for (const page of seen?.plan.pages ?? []) laid += page.photos?.length ?? 0;
  return (
    <Dialog
      onClose={onClose}
      title={
        whole
          ? t("Auto layout: whole book")
          : tn(sheets?.length ?? 0, "Auto layout: {n} sheet", "Auto layout: {n} sheets")
      }
      fullScreen
      classNames={{ body: css.layOut, content: css.layOutSheet }}
    >
      <section className={css.dials} aria-label={t("Settings")}>
        <Styles
          style={styleOf(wishes, photos)}
          onChoose={(style) =>
            set(whole ? { ...style, pages: bindable(photos / (style.per_page ?? 3), bound) } : style)
          }
        />
        {whole && (
          <>
            <NumberField
              label={bound ? t("Pages ({least} to {most}, by {multiple})", { ...bound }) : t("Pages")}
              min={bound?.least ?? 1}
              max={bound?.most ?? 2000}
              step={bound?.multiple ?? 2}
              value={wishes.pages ?? 40}
              onKeep={(pages) => set({ pages })}
            />
            <Dial
              label={t("Photos on a page: about {number} of {photos}", {
                number: trimmed(photos / Math.max(1, wishes.pages ?? 40), 1),
                photos,
              })}
              low={t("few")}
              high={t("many")}
              min={1}
              max={8}
              step={0.5}
              value={photos / Math.max(1, wishes.pages ?? 40)}
              onChange={(many) => set({ pages: bindable(photos / many, bound) })}
            />
          </>
        )}
        {whole && (
          <Dial
            label={t("Photos used: {used} of {photos}", {
              used: wishes.photos ?? photos,
              photos,
            })}
            low={t("few")}
            high={t("all")}
            min={Math.min(photos, 12)}
            max={photos}
            step={1}
            value={wishes.photos ?? photos}
            onChange={(many) => set({ photos: many < photos ? many : null })}
          />
        )}
        <Dial
          label={
            wishes.cropping
              ? t("Cropping: {number} % at most", { number: Math.round(100 * wishes.cropping) })
              : t("Cropping: nothing")
          }
          low={t("nothing")}
          high={t("more")}
          max={0.3}
          step={0.01}
          value={wishes.cropping}
          onChange={(cropping) => set({ cropping })}
        />
        <Dial
          label={t("White space")}
          low={t("less")}
          high={t("more")}
          value={wishes.white}
          onChange={(white) => set({ white })}
        />
        <Dial
          label={t("Variety")}
          low={t("low")}
          high={t("high")}
          value={wishes.lively}
          onChange={(lively) => set({ lively })}
        />
        {wishes.cropping > 0 && (
          <Dial
            label={t("Pictures to the edge")}
            low={t("none")}
            high={t("many")}
            value={wishes.bleeds}
            onChange={(bleeds) => set({ bleeds })}
          />
        )}
        <Checkbox
          size="xs"
          label={t("Chapters with titles")}
          description={t("Each event begins on a spread. Double-click a title on the bench to change it.")}
          disabled={wishes.order === "pile"}
          checked={wishes.chapters && wishes.order === "time"}
          onChange={(event) => set({ chapters: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Date on each day's first page")}
          checked={wishes.dates}
          onChange={(event) => set({ dates: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Include near-duplicates")}
          checked={wishes.likes}
          onChange={(event) => set({ likes: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Include flawed photos")}
          checked={wishes.spoilt}
          onChange={(event) => set({ spoilt: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Use pile order")}
          checked={wishes.order === "pile"}
          onChange={(event) => set({ order: event.currentTarget.checked ? "pile" : "time" })}
        />
        <Button variant="default" onClick={() => set({ seed: wishes.seed + 1 })}>
          {t("Shuffle")}
        </Button>
        <p className={css.note}>
          {t(
            "Sheets with photos placed or pinned by hand stay as they are. What must stay visible is never cut.",
          )}
        </p>
        <div className={css.applied}>
          <div className={css.progress} role="status">
            {failure ? (
              <>
                <span role="alert">{failure}</span>
                <Button size="compact-xs" variant="default" onClick={askAgain}>
                  {t("Try again")}
                </Button>
              </>
            ) : isFresh ? (
              <span className="num">
                {tn(seen?.plan.pages.length ?? 0, "{n} page", "{n} pages")},{" "}
                {tn(laid, "{n} photo", "{n} photos")}
                {aside.length > 0 && `, ${t("{aside} left out", { aside: aside.length })}`}
              </span>
            ) : (
              <>
                <span>
                  {progress
                    ? t("{stage}: {done} of {total}", {
                        stage: progress.stage,
                        done: progress.done,
                        total: progress.total,
                      })
                    : t("Laying out…")}
                </span>
                <Progress
                  value={progress ? (100 * progress.done) / Math.max(1, progress.total) : 0}
                  aria-label={t("Laying out")}
                />
              </>
            )}
          </div>
          <Button variant="default" onClick={onClose}>
            {t("Cancel")}
          </Button>
          <Button disabled={!isFresh} onClick={keep}>
            {t("Apply layout")}
          </Button>
        </div>
      </section>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is reached by keys */}
      <section className={css.seen} aria-label={t("Preview")} aria-busy={!isFresh} tabIndex={0}>
        <ol>
          {(seen?.sheets ?? [])
            .filter((sheet) => whole || stretch.current?.includes(sheet.id))
            .map((sheet) => (
              <li key={sheet.id}>
                <Small sheet={sheet} state={state} paper={theme?.swatches.Paper} />
                <span>
                  {sheet.chapter ? `${sheet.name}: ${sheet.chapter}` : sheet.name}
                  {sheet.kept && sheet.role !== "cover" ? `, ${t("stays")}` : ""}
                </span>
              </li>
            ))}
        </ol>
        {aside.length > 0 && (
          <div className={css.aside}>
            <h3>{t("Left out")}</h3>
            <ul>
              {aside.map(({ photo, like, why }) => (
                <li key={photo}>
                  <Pictured id={photo} state={state} /> <span>{like ? t("{why} than", { why }) : why}</span>{" "}
                  {like && <Pictured id={like} state={state} />}
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={t("Use {name} as well", { name: state.photo.get(photo)?.name ?? "" })}
                    onClick={() => set({ also: [...wishes.also, photo] })}
                  >
                    {t("Use it")}
                  </Button>
                </li>
              ))}
            </ul>
          </div>
        )}
      </section>
    </Dialog>
  );
}

/** What of the wishes is a style: all that does not say which photos, or how many pages. */
function styleOf({ pages, photos: _, also, seed, ...style }: Dials, photos: number) {
  const per_page = Math.max(1, Math.min(12, photos / Math.max(1, pages ?? 40)));
  return { ...style, per_page: Math.round(10 * per_page) / 10 };
}

/** The number of pages nearest to a wish that can be bound. */
function bindable(wish: number, bound: { least?: number; most?: number; multiple?: number } | undefined) {
  const { least = 2, most = 2000, multiple = 2 } = bound ?? {};
  return Math.min(most, Math.max(least, Math.ceil(wish / multiple) * multiple));
}

/** Where the dials stand at first: the pages that there are. */
function first(state: View, photos: number): Dials {
  let pages = 0;
  for (const { role } of state.sheets) pages += role === "cover" ? 0 : role === "spread" ? 2 : 1;
  return {
    pages,
    per_page: Math.max(1, Math.min(12, photos / Math.max(1, pages))),
    photos: null,
    also: [],
    cropping: state.job.book?.cropping ?? 0.1,
    white: 0.4,
    lively: 0.4,
    bleeds: 0.5,
    likes: false,
    spoilt: false,
    order: "time",
    dates: true,
    chapters: state.job.book?.chapters ?? false,
    seed: 0,
  };
}

function Pictured({ id, state }: { id: string; state: View }) {
  const photo = state.photo.get(id);
  return photo ? <img src={thumb(photo)} alt={photo.name} title={photo.name} loading="lazy" /> : null;
}

/** A sheet with its photos where they would lie. */
function Small({ sheet, state, paper }: { sheet: SeenSheet; state: View; paper?: string }) {
  return (
    <div className={css.small} style={{ aspectRatio: sheet.ratio, background: paper }} data-role={sheet.role}>
      {sheet.photos.map((one) => {
        const photo = state.photo.get(one.photo);
        return (
          photo && (
            <img
              key={`${one.photo} ${one.left} ${one.top}`}
              src={thumb(photo)}
              alt={photo.name}
              loading="lazy"
              style={{
                left: `${100 * one.left}%`,
                top: `${100 * one.top}%`,
                width: `${100 * one.width}%`,
                height: `${100 * one.height}%`,
              }}
            />
          )
        );
      })}
    </div>
  );
}

function Dial({
  label,
  low,
  high,
  value,
  min = 0,
  max = 1,
  step = 0.05,
  onChange,
}: {
  label: string;
  low: string;
  high: string;
  value: number;
  min?: number;
  max?: number;
  step?: number;
  onChange: (value: number) => void;
}) {
  return (
    <div className={css.dial}>
      <span>{label}</span>
      <div>
        <span>{low}</span>
        <Slider
          size="xs"
          thumbLabel={t("{label}: {low} to {high}", { label, low, high })}
          label={null}
          min={min}
          max={max}
          step={step}
          value={Math.min(max, Math.max(min, value))}
          onChange={onChange}
        />
        <span>{high}</span>
      </div>
    </div>
  );
}
