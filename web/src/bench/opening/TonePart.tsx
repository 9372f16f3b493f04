import { Button, SegmentedControl, Select } from "@mantine/core";
import { useState } from "react";
import { answer, api, type Recipe, type Row, type Step } from "../../api/client";
import { type Said, useChange } from "../../editing/changes";
import { mendedPicture, stepsOf } from "../../editing/standing";
import { useBench } from "../../editing/store";
import { openingOf, type View } from "../../editing/view";
import { Dial } from "../../ui/Dial";
import { Tick } from "../../ui/Tick";
import { underWay } from "../../ui/underWay";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import css from "../side.module.css";
import { CurveEditor } from "./CurveEditor";
import { Part } from "./FramePart";
import { LevelsEditor } from "./LevelsEditor";
import { Recipes } from "./Recipes";

type Kind = Step["kind"];
type Curves = Extract<Step, { kind: "curves" }>;
type Levels = Extract<Step, { kind: "levels" }>;

/** The steps in the order in which they are done, each with its numbers: field, label, least, most, step, unit, neutral. */
const STEPS: {
  kind: Kind;
  name: string;
  dials: [
    field: string,
    label: string,
    min: number,
    max: number,
    step: number,
    unit: string,
    neutral: number,
  ][];
}[] = [
  { kind: "enhance", name: t("Enhance"), dials: [["amount", t("Amount"), 0, 100, 1, "%", 60]] },
  { kind: "levels", name: t("Levels"), dials: [] },
  { kind: "curves", name: t("Curves"), dials: [] },
  { kind: "exposure", name: t("Exposure"), dials: [["stops", t("Exposure"), -3, 3, 0.05, "EV", 0]] },
  { kind: "contrast", name: t("Contrast"), dials: [["amount", t("Amount"), -100, 100, 1, "", 0]] },
  {
    kind: "white_balance",
    name: t("White balance"),
    dials: [
      ["warmth", t("Warmth"), -100, 100, 1, "", 0],
      ["tint", t("Tint"), -100, 100, 1, "", 0],
    ],
  },
  {
    kind: "colour",
    name: t("Hue, saturation, lightness"),
    dials: [
      ["hue_deg", t("Hue"), -180, 180, 1, "°", 0],
      ["saturation", t("Saturation"), -100, 100, 1, "", 0],
      ["lightness", t("Lightness"), -100, 100, 1, "", 0],
    ],
  },
  {
    kind: "black_and_white",
    name: t("Black and white"),
    dials: [
      ["red", t("Red"), 0, 1, 0.01, "", 0.2126],
      ["green", t("Green"), 0, 1, 0.01, "", 0.7152],
      ["blue", t("Blue"), 0, 1, 0.01, "", 0.0722],
    ],
  },
];

const MODELS: Record<Kind, string> = {
  enhance: t("Enhance"),
  levels: t("Levels"),
  curves: t("Curves"),
  exposure: t("Exposure"),
  contrast: t("Contrast"),
  white_balance: "WhiteBalance",
  colour: "ColourStep",
  black_and_white: "BlackAndWhite",
};

/** Steps with one of them changed, or added in its place. */
export function withStep(steps: Step[], kind: Kind, part: object): Step[] {
  const place = (step: Step) => STEPS.findIndex((entry) => entry.kind === step.kind);
  const old = steps.find((step) => step.kind === kind) ?? ({ kind, on: true } as Step);
  const rest = steps.filter((step) => step.kind !== kind);
  return [...rest, { ...old, ...part } as Step].sort((a, b) => place(a) - place(b));
}

/** How what the opening shows is mended; or its photo, wherever it lies. Each step is on or off by itself. */
export function TonePart({ state, row }: { state: View; row: Row }) {
  const { edit } = useChange(state);
  const { before, set } = usePicked(useBench, "before", "set");
  const ownSteps = state.filling.tones?.[row.opening];
  const [scope, setScope] = useState<"opening" | "photo">(ownSteps ? "opening" : "photo");
  const photo = state.photo.get(row.photo ?? "");
  if (!photo) return <p className={css.hint}>{t("Empty: no photo to adjust.")}</p>;
  const recipe = scope === "opening" ? ownSteps : state.own.photo_tones?.[photo.id];
  const steps = stepsOf(state, photo, scope === "opening" ? row.opening : undefined);
  const mended = (recipe: Recipe | null): Said =>
    scope === "opening"
      ? { op: "mend_opening", opening: row.opening, recipe, expect: photo.id }
      : { op: "mend_photo", edition: "", photo: photo.id, recipe };
  const change = <K extends Kind>(
    kind: K,
    part: object | ((now: Extract<Step, { kind: K }> | undefined) => object),
    gesture?: string,
  ) =>
    edit(
      (now) => {
        const known = now.photo.get(photo.id) ?? photo;
        const steps = stepsOf(now, known, scope === "opening" ? row.opening : undefined);
        return {
          ...mended({
            steps: withStep(
              steps,
              kind,
              typeof part === "function"
                ? part(steps.find((one) => one.kind === kind) as Extract<Step, { kind: K }> | undefined)
                : part,
            ),
          }),
          ...(scope === "photo" ? { edition: now.own.id } : {}),
        };
      },
      { gesture },
    );
  const lay = (laid: Step[]) =>
    edit({ ...mended({ steps: laid }), ...(scope === "photo" ? { edition: state.own.id } : {}) });
  const layOnAll = () => {
    const gesture = `recipe-${crypto.randomUUID()}`;
    const photos = new Set(state.rows.map((entry) => entry.photo).filter(Boolean) as string[]);
    for (const one of photos)
      edit(
        (now) => {
          const known = now.photo.get(photo.id) ?? photo;
          const steps = stepsOf(now, known, scope === "opening" ? row.opening : undefined);
          return { op: "mend_photo", edition: now.own.id, photo: one, recipe: { steps: steps } };
        },
        { gesture },
      );
  };
  const match = async (like: string) => {
    const other = state.photo.get(like);
    if (!other) return;
    const first = STEPS.findIndex(({ kind }) => kind === "curves");
    const before = steps.filter((step) => STEPS.findIndex(({ kind }) => kind === step.kind) < first);
    await underWay(async () => {
      const { red, green, blue } = await answer<Curves>(
        api.POST("/api/photos/matched", {
          body: {
            photo: photo.id,
            like,
            before: { steps: before },
            like_as: { steps: stepsOf(state, other) },
          },
        }),
      );
      const all = [
        [0, 0],
        [255, 255],
      ];
      change("curves", { on: true, all, red, green, blue });
    });
  };
  return (
    <>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={t("Adjust")}
        value={scope}
        onChange={(value) => setScope(value as typeof scope)}
        data={[
          { value: "photo", label: t("The photo everywhere") },
          { value: "opening", label: t("This opening only") },
        ]}
      />
      <Button
        size="compact-xs"
        variant="default"
        my={6}
        title={t("Heal, clone, fill, lighten, dust (R)")}
        onClick={() => set({ photoRoom: row.opening, retouching: true })}
      >
        {t("Retouch the photo…")}
      </Button>
      {scope === "photo" && ownSteps && (
        <p className={css.hint}>{t("This opening has its own adjustments, which come first.")}</p>
      )}
      {(openingOf(state, row.opening)?.tone?.length ?? 0) > 0 && (
        <p className={css.hint}>
          {t("The template adjusts every photo in this opening.")}{" "}
          <Button
            size="compact-xs"
            variant="default"
            onClick={() =>
              edit({ op: "set_fields", layers: [row.opening], fields: { tone: [] }, expect: {} })
            }
          >
            {t("Remove")}
          </Button>
        </p>
      )}
      {STEPS.map(({ kind, name, dials }) => {
        const step = steps.find((entry) => entry.kind === kind);
        const values = (step ?? {}) as unknown as Record<string, number>;
        return (
          <Part
            key={kind}
            name={name}
            on={!!step && step.on !== false}
            onChange={(on) => change(kind, { on })}
          >
            {kind === "levels" && (
              <LevelsEditor
                photo={photo}
                step={step as Levels | undefined}
                onChange={(part, gesture) => change("levels", part, gesture)}
              />
            )}
            {kind === "curves" && (
              <CurveEditor
                photo={photo}
                step={step as Curves | undefined}
                onChange={(part, gesture) => change("curves", part, gesture)}
              />
            )}
            {kind === "curves" && (
              <Select
                mt={6}
                size="xs"
                label={t("Match another photo")}
                placeholder={t("Choose a photo")}
                searchable
                limit={60}
                value={null}
                data={state.photos
                  .filter(({ id, aside }) => id !== photo.id && !aside)
                  .map(({ id, name: label }) => ({ value: id, label }))}
                onChange={(like) => like && match(like)}
              />
            )}
            {dials.map(([field, label, min, max, by, unit, neutral]) => (
              <Dial
                key={field}
                label={label}
                min={min}
                max={max}
                step={by}
                of={`${MODELS[kind]}.${field}`}
                unit={unit}
                value={values[field] ?? neutral}
                onKeep={(value, gesture) => change(kind, { [field]: value }, gesture)}
              />
            ))}
          </Part>
        );
      })}
      <div className={css.group}>
        <Recipes
          steps={steps}
          pictureWith={(other) => mendedPicture(state, photo, row.opening, other, 180)}
          onLay={lay}
          onLayOnAll={layOnAll}
        />
        <Tick
          on={photo.already_worked ?? false}
          onChange={(worked) => edit({ op: "worked", photos: [photo.id], worked })}
        >
          {t("Already edited: no automatic enhancement")}
        </Tick>
        <Tick on={state.job.enhance ?? false} onChange={(on) => edit({ op: "enhance_all", on })}>
          {t("Enhance all other photos of this job")}
        </Tick>
        <div className={css.tools}>
          <Button
            size="compact-xs"
            variant={before ? "filled" : "default"}
            aria-pressed={before}
            title={t("Before and after (B)")}
            onClick={() => set({ before: !before })}
          >
            {t("Before")}
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            disabled={!recipe}
            onClick={() => edit({ ...mended(null), ...(scope === "photo" ? { edition: state.own.id } : {}) })}
          >
            {t("Reset all adjustments")}
          </Button>
        </div>
      </div>
    </>
  );
}
