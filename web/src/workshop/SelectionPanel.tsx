import { Button, Checkbox, TextInput } from "@mantine/core";
import type { DateGrid, Opening, Text } from "../api/client";
import { FramePart } from "../bench/opening/FramePart";
import side from "../bench/side.module.css";
import { type Said, useChange } from "../editing/changes";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { boundsOf } from "../geometry/placing";
import { DatesPart } from "../lettering/DatesPart";
import { LetteringPart } from "../lettering/LetteringPart";
import { useWords } from "../lettering/useWords";
import { WordsField } from "../lettering/WordsField";
import { Choice } from "../ui/Choice";
import { Dial } from "../ui/Dial";
import { NumberField } from "../ui/NumberField";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { Arrange } from "./Arrange";
import { type Box, cornersOf, found, isShaped, type Layer, named, turnOf } from "./layers";
import { PaintPart } from "./PaintPart";
import { atSize, type Held, heldOf, sizing } from "./pulling";
import { RecolourPart } from "./RecolourPart";
import { useTable } from "./table";
import type { useHands } from "./useHands";
import css from "./workshop.module.css";

/** Ratios that photos and prints of the trade have. */
const RATIOS: [string, number | undefined][] = [
  ["free", undefined],
  ["1 : 1", 1],
  ["3 : 2", 3 / 2],
  ["2 : 3", 2 / 3],
  ["4 : 3", 4 / 3],
  ["3 : 4", 3 / 4],
  ["5 : 4", 5 / 4],
  ["4 : 5", 4 / 5],
  ["7 : 5", 7 / 5],
  ["5 : 7", 5 / 7],
  ["16 : 9", 16 / 9],
  ["9 : 16", 9 / 16],
  ["2 : 1", 2],
  ["3 : 1", 3],
];

/** What has its opacity set here; an opening has it beside its frame. */
const FAINT = new Set(["background", "fill", "ornament", "overlay", "page", "text", "dates"]);

type Hands = Pick<ReturnType<typeof useHands>, "make" | "repeat">;

/** What is selected: where it lies, in figures; its look; how it is arranged with others, repeated, split, joined. */
export function SelectionPanel({ state, hands }: { state: View; hands: Hands }) {
  const { edit } = useChange(state);
  const selected = useTable((table) => table.selected);
  const { layers } = state.layout;
  const chosen = selected.map((id) => found(layers, id)).filter((layer) => layer !== undefined);
  const openings = chosen.filter((layer): layer is Opening => layer.kind === "opening");
  const [only] = chosen;
  if (!only) return null;
  const row = state.rows.find((entry) => entry.opening === only.id);
  const lock = (content_locked: boolean) => edit(fieldsOf([only.id], { content_locked }));
  const title = chosen.length > 1 ? `${chosen.length} layers` : named(only, row?.number);
  return (
    <section className={side.panel} aria-label={t("Selected: {title}", { title })}>
      <h3>
        {title}
        {chosen.length === 1 && <small>{only.kind}</small>}
      </h3>
      {chosen.length === 1 && only.kind !== "background" && (
        <Name key={`Name ${only.id}`} state={state} layer={only} />
      )}
      {chosen.length === 1 && (
        <Checkbox
          size="xs"
          mt={6}
          label={t("Lock content")}
          checked={!!only.content_locked}
          onChange={(event) => lock(event.currentTarget.checked)}
        />
      )}
      {chosen.length === 1 && only.kind === "text" && (
        <WordsPart key={`WordsPart ${only.id}`} state={state} text={only as Text} />
      )}
      {chosen.length === 1 && only.kind === "dates" && (
        <DatesPart key={`DatesPart ${only.id}`} state={state} grid={only as DateGrid} />
      )}
      {only.kind !== "background" && only.kind !== "echo" && (
        <Place key={chosen.map(({ id }) => id).join()} state={state} chosen={chosen} />
      )}
      {only.kind !== "background" && only.kind !== "echo" && (
        <Arrange state={state} chosen={chosen} hands={hands} />
      )}
      {chosen.every((layer) => layer.kind === "fill" || layer.kind === "opening") && (
        <Become state={state} chosen={chosen} />
      )}
      <Along state={state} chosen={chosen} />
      {only.kind === "overlay" && chosen.length === 1 && (
        <Checkbox
          size="xs"
          mt={6}
          label={t("Guide (never printed)")}
          checked={!!only.guide}
          onChange={(event) => edit(fieldsOf([only.id], { guide: event.currentTarget.checked }))}
        />
      )}
      {openings.length > 0 && openings.length === chosen.length && (
        <FramePart key={`FramePart ${selected.join()}`} state={state} layers={openings} />
      )}
      {(chosen.length > 1 || only.kind === "group") && <RecolourPart state={state} chosen={chosen} />}
      {chosen.length === 1 &&
        (only.kind === "fill" || only.kind === "background" || only.kind === "ornament") && (
          <PaintPart key={`PaintPart ${only.id}`} state={state} layer={only} />
        )}
      {chosen.length === 1 && "opacity" in only && FAINT.has(only.kind) && (
        <Dial
          label={t("Opacity")}
          min={0}
          max={100}
          per={100}
          unit="%"
          value={Math.round((only.opacity ?? 1) * 100)}
          onKeep={(value, gesture) => edit(fieldsOf([only.id], { opacity: value / 100 }), { gesture })}
        />
      )}
    </section>
  );
}

const fieldsOf = (ids: string[], fields: Record<string, unknown>): Said => ({
  op: "set_fields",
  layers: ids,
  fields,
  expect: {},
});

/** Words and a shape selected together: the words run along its edge. */
function Along({ state, chosen }: { state: View; chosen: Layer[] }) {
  const { edit } = useChange(state);
  const text = chosen.find((layer) => layer.kind === "text");
  const shape = chosen.find((layer) => layer.kind === "fill" || layer.kind === "opening");
  if (chosen.length !== 2 || !text || !shape) return null;
  return (
    <div className={css.row}>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => edit({ op: "run_along", text: text.id, of: shape.id })}
      >
        {t("Set text along its edge")}
      </Button>
    </div>
  );
}

/** Openings of shapes, shapes of openings. */
function Become({ state, chosen }: { state: View; chosen: Layer[] }) {
  const { edit } = useChange(state);
  const layers = chosen.map((layer) => layer.id);
  const shapes = chosen.some((layer) => layer.kind === "fill");
  return (
    <div className={css.row}>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => edit({ op: "become", layers, kind: shapes ? "opening" : "fill" })}
      >
        {shapes
          ? layers.length > 1
            ? t("Convert to openings")
            : t("Convert to opening")
          : t("Convert to shape")}
      </Button>
    </div>
  );
}

function Name({ state, layer }: { state: View; layer: Layer }) {
  const { edit } = useChange(state);
  const { shown, change } = useKept(
    layer.name ?? "",
    (name, gesture) => edit(fieldsOf([layer.id], { name }), { gesture }),
    500,
  );
  return (
    <TextInput
      size="xs"
      aria-label={t("Name")}
      placeholder={t("Name")}
      maxLength={120}
      value={shown}
      onChange={(event) => change(event.currentTarget.value)}
    />
  );
}

/** Left, top, width, height, turn: of one layer its own, of several those of the box about them. */
function Place({ state, chosen }: { state: View; chosen: Layer[] }) {
  const { edit, editLater } = useChange(state);
  const { ratio, set } = usePicked(useTable, "ratio", "set");
  const { layers } = state.layout;
  const ids = chosen.map((layer) => layer.id);
  const held = heldOf(layers, state.frames, ids);
  const corners = cornersOf(layers, state.frames, ids);
  if (!held || !corners.length) return null;
  const box = boundsOf(corners);
  const [only] = chosen.length === 1 ? chosen : [];
  const lies = only && isShaped(only) ? only.surface : undefined;
  const flat = lies?.kind === "flat" ? lies : undefined;
  const row = state.rows.find((one) => one.opening === only?.id);
  // Figures are typed faster than a busy machine answers: each is of what those before it made.
  const place = (make: (now: Held, box: Box) => Said) =>
    editLater((view) => {
      const now = heldOf(view.layout.layers, view.frames, ids);
      return now && make(now, boundsOf(cornersOf(view.layout.layers, view.frames, ids)));
    });
  const size = (now: Held, width: number, height: number) => sizing(now, atSize(now, [1, 1], width, height));
  const keptBy = (now: Held) => ratio ?? (now.even ? now.width / now.height : undefined);
  const wide = (now: Held, width: number) => {
    const lock = keptBy(now);
    return size(now, width, lock ? width / lock : now.height);
  };
  const high = (now: Held, height: number) => {
    const lock = keptBy(now);
    return size(now, lock ? height * lock : now.width, height);
  };
  const current = RATIOS.find(([, value]) => value === ratio)?.[0] ?? t("as it is");
  return (
    <>
      <div className={css.figures}>
        <NumberField
          label={t("Left")}
          late
          unit="mm"
          value={box.left}
          onKeep={(x) => place((_, { left }) => ({ op: "carry", layers: ids, by: [x - left, 0] }))}
        />
        <NumberField
          label={t("Top")}
          late
          unit="mm"
          value={box.top}
          onKeep={(y) => place((_, { top }) => ({ op: "carry", layers: ids, by: [0, y - top] }))}
        />
        <NumberField
          label={t("Width")}
          late
          unit="mm"
          min={1}
          max={5000}
          value={held.width}
          onKeep={(width) => place((now) => wide(now, width))}
        />
        <NumberField
          label={t("Height")}
          late
          unit="mm"
          min={1}
          max={5000}
          value={held.height}
          onKeep={(height) => place((now) => high(now, height))}
        />
      </div>
      <div className={css.pair}>
        <Choice
          label={t("Ratio")}
          value={current}
          data={[...RATIOS.map(([label]) => label), t("as it is")]}
          onChange={(label) => {
            const value =
              label === "as it is" ? held.width / held.height : RATIOS.find(([name]) => name === label)?.[1];
            set({ ratio: value });
            if (value && Math.abs(held.width / held.height - value) > 1e-3)
              place((now) => size(now, now.width, now.width / value));
          }}
        />
        {only && (
          <NumberField
            label={t("Turn")}
            late
            unit="°"
            step={0.1}
            min={-360}
            max={360}
            value={turnOf(only)}
            onKeep={(turn) =>
              editLater(({ layout }) => {
                const now = found(layout.layers, only.id);
                return now && { op: "carry", layers: ids, turn_deg: turn - turnOf(now) };
              })
            }
          />
        )}
        {row && (
          <NumberField
            label={t("Number")}
            min={1}
            max={state.rows.length}
            value={row.number}
            onKeep={(number) => {
              const order = state.rows.map((one) => one.opening).filter((one) => one !== row.opening);
              order.splice(number - 1, 0, row.opening);
              edit({ op: "renumber", order });
            }}
          />
        )}
        {flat && (
          <NumberField
            label={t("Skew")}
            unit="°"
            step={0.5}
            min={-60}
            max={60}
            value={flat.skew_deg ?? 0}
            onKeep={(skew_deg) => edit(fieldsOf(ids, { "surface.skew_deg": skew_deg }))}
          />
        )}
      </div>
    </>
  );
}

function WordsPart({ state, text }: { state: View; text: Text }) {
  const { edit } = useChange(state);
  const { wordsOf, keep } = useWords(state);
  return (
    <div className={side.group}>
      <WordsField
        state={state}
        id={`words-${text.id}`}
        box={text}
        words={wordsOf(text)}
        onKeep={(said, gesture) => keep(text, said, gesture)}
      />
      <LetteringPart state={state} text={text} />
      <Checkbox
        size="xs"
        mt={6}
        label={t("Sample text (not in orders)")}
        checked={text.sample !== false}
        onChange={(event) => edit(fieldsOf([text.id], { sample: event.currentTarget.checked }))}
      />
    </div>
  );
}
