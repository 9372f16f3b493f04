import { Button, Checkbox, Progress, Slider, Stack } from "@mantine/core";
import { useRef, useState } from "react";
import { type SeenSheet, thumb } from "../api/client";
import { useThemes } from "../api/queries";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Dialog } from "../ui/Dialog";
import { plural, trimmed } from "../ui/format";
import { NumberField } from "../ui/NumberField";
import css from "./book.module.css";
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
      title={whole ? "Auto layout: whole book" : `Auto layout: ${plural(sheets?.length ?? 0, "sheet")}`}
      fullScreen
      classNames={{ body: css.layOut, content: css.layOutSheet }}
    >
      <section className={css.dials} aria-label="Settings">
        {whole && (
          <>
            <NumberField
              label={`Pages${bound ? ` (${bound.least} to ${bound.most}, by ${bound.multiple})` : ""}`}
              min={bound?.least ?? 1}
              max={bound?.most ?? 2000}
              step={bound?.multiple ?? 2}
              value={wishes.pages ?? 40}
              onKeep={(pages) => set({ pages })}
            />
            <Dial
              label={`Photos on a page: about ${trimmed(photos / Math.max(1, wishes.pages ?? 40), 1)} of ${photos}`}
              low="few"
              high="many"
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
            label={`Photos used: ${wishes.photos ?? photos} of ${photos}`}
            low="few"
            high="all"
            min={Math.min(photos, 12)}
            max={photos}
            step={1}
            value={wishes.photos ?? photos}
            onChange={(many) => set({ photos: many < photos ? many : null })}
          />
        )}
        <Dial
          label={
            wishes.cropping ? `Cropping: ${Math.round(100 * wishes.cropping)} % at most` : "Cropping: nothing"
          }
          low="nothing"
          high="more"
          max={0.3}
          step={0.01}
          value={wishes.cropping}
          onChange={(cropping) => set({ cropping })}
        />
        <Dial
          label="White space"
          low="less"
          high="more"
          value={wishes.white}
          onChange={(white) => set({ white })}
        />
        <Dial
          label="Variety"
          low="low"
          high="high"
          value={wishes.lively}
          onChange={(lively) => set({ lively })}
        />
        {wishes.cropping > 0 && (
          <Dial
            label="Pictures to the edge"
            low="none"
            high="many"
            value={wishes.bleeds}
            onChange={(bleeds) => set({ bleeds })}
          />
        )}
        <Checkbox
          size="xs"
          label="Date on each day's first page"
          checked={wishes.dates}
          onChange={(event) => set({ dates: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label="Include near-duplicates"
          checked={wishes.likes}
          onChange={(event) => set({ likes: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label="Include flawed photos"
          checked={wishes.spoilt}
          onChange={(event) => set({ spoilt: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label="Use pile order"
          checked={wishes.order === "pile"}
          onChange={(event) => set({ order: event.currentTarget.checked ? "pile" : "time" })}
        />
        <Button variant="default" onClick={() => set({ seed: wishes.seed + 1 })}>
          Shuffle
        </Button>
        <p className={css.note}>
          Sheets with photos placed or pinned by hand stay as they are. What must stay visible is never cut.
        </p>
        <div className={css.progress} role="status">
          {failure ? (
            <>
              <span role="alert">{failure}</span>
              <Button size="compact-xs" variant="default" onClick={askAgain}>
                Try again
              </Button>
            </>
          ) : isFresh ? (
            <span className="num">
              {plural(seen?.plan.pages.length ?? 0, "page")}, {plural(laid, "photo")}
              {aside.length > 0 && `, ${aside.length} left out`}
            </span>
          ) : (
            <>
              <span>
                {progress ? `${progress.stage}: ${progress.done} of ${progress.total}` : "Laying out…"}
              </span>
              <Progress
                value={progress ? (100 * progress.done) / Math.max(1, progress.total) : 0}
                aria-label="Laying out"
              />
            </>
          )}
        </div>
        <Stack gap={8} mt="auto">
          <Button variant="default" onClick={onClose}>
            Cancel
          </Button>
          <Button disabled={!isFresh} onClick={keep}>
            Apply layout
          </Button>
        </Stack>
      </section>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is reached by keys */}
      <section className={css.seen} aria-label="Preview" aria-busy={!isFresh} tabIndex={0}>
        <ol>
          {(seen?.sheets ?? [])
            .filter((sheet) => whole || stretch.current?.includes(sheet.id))
            .map((sheet) => (
              <li key={sheet.id}>
                <Small sheet={sheet} state={state} paper={theme?.swatches.Paper} />
                <span>
                  {sheet.name}
                  {sheet.kept && sheet.role !== "cover" ? ", stays" : ""}
                </span>
              </li>
            ))}
        </ol>
        {aside.length > 0 && (
          <div className={css.aside}>
            <h3>Left out</h3>
            <ul>
              {aside.map(({ photo, like, why }) => (
                <li key={photo}>
                  <Pictured id={photo} state={state} /> <span>{like ? `${why} than` : why}</span>{" "}
                  {like && <Pictured id={like} state={state} />}
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={`Use ${state.photo.get(photo)?.name ?? "it"} as well`}
                    onClick={() => set({ also: [...wishes.also, photo] })}
                  >
                    Use it
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
    cropping: 0.1,
    white: 0.4,
    lively: 0.4,
    bleeds: 0.5,
    likes: false,
    spoilt: false,
    order: "time",
    dates: true,
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
          thumbLabel={`${label}: ${low} to ${high}`}
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
