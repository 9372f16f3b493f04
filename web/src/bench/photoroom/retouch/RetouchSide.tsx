import { Button, SegmentedControl } from "@mantine/core";
import type { Touch } from "../../../api/client";
import type { Held } from "../../../editing/fitting";
import { Dial } from "../../../ui/Dial";
import { KeysHelp, type KeyTable } from "../../../ui/KeysHelp";
import { Tick } from "../../../ui/Tick";
import { t } from "../../../words";
import { Amounts } from "./Amounts";
import { heldRadius, type Shape, shapesOf, turnedTo, useBrush } from "./brush";
import { RETOUCH_KEYS, TOOLS, WITH_THE_MOUSE } from "./keys";
import { Proposals } from "./Proposals";
import css from "./retouch.module.css";
import { cutOf, longer } from "./seen";
import { TouchList } from "./TouchList";
import type { Scope, Touches } from "./useTouches";

const SHAPES: Record<Shape, string> = {
  stroke: t("Brush"),
  outlined: t("Outline"),
  round: t("Round"),
  graded: t("Gradient"),
  cut: t("Subject"),
};
const PICK = t("Click on something that was grey or white.");
const HELP: readonly KeyTable[] = [
  [t("On the photo"), [...RETOUCH_KEYS.filter(({ scope }) => scope === "photo"), ...WITH_THE_MOUSE]],
  [t("Anywhere in the room"), RETOUCH_KEYS.filter(({ scope }) => scope === "room")],
];

/** Beside the photo that is retouched: tools, the brush, what the machine proposes, and the list of what was done. */
export function RetouchSide({
  now,
  top,
  scope,
  setScope,
  touches,
  zoom,
  see,
}: {
  now: Held;
  top: React.ReactNode;
  scope: Scope;
  setScope: (scope: Scope) => void;
  touches: Touches;
  zoom: number;
  see: {
    photo: () => void;
    whole: () => void;
    pixels: () => void;
    print: () => void;
    touch: (touch: Touch) => void;
  };
}) {
  const { photo } = now;
  const brush = useBrush();
  const { set, tool } = brush;
  const shapes = shapesOf(tool);
  const covers = tool === "clone" || tool === "heal";
  const chosen = touches.mine.find(({ id }) => id === brush.selected);
  const more = tool === "subject" && cutOf(chosen) && brush.cutting !== "anew";
  return (
    <div className={css.side}>
      {top}
      <div className={css.row}>
        {TOOLS.map(({ tool: name, label, key }) => (
          <Button
            key={name}
            size="compact-xs"
            variant={tool === name ? "filled" : "default"}
            aria-pressed={tool === name}
            title={`${label} (${key.toUpperCase()})`}
            onClick={() => set(turnedTo(name, brush))}
          >
            {label}
          </Button>
        ))}
      </div>
      <p>
        {brush.choosing
          ? t("Click the source.")
          : more
            ? brush.cutting === "more"
              ? t("Draw over what is to come to the subject.")
              : t("Draw over what is to go from the subject.")
            : (TOOLS.find((one) => one.tool === tool)?.hint ?? PICK)}
      </p>
      {tool === "subject" && !cutOf(chosen) && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label={t("Use of the subject")}
          value={brush.cutFor}
          onChange={(value) => set({ cutFor: value as "free" | "backdrop" })}
          data={[
            { value: "free", label: t("Stand free") },
            { value: "backdrop", label: t("Change background") },
          ]}
        />
      )}
      {tool === "subject" && cutOf(chosen) && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label={t("Next stroke")}
          value={brush.cutting}
          onChange={(value) => set({ cutting: value as "anew" | "more" | "less" })}
          data={[
            { value: "anew", label: t("New subject") },
            { value: "more", label: t("Add to subject") },
            { value: "less", label: t("Subtract") },
          ]}
        />
      )}
      {shapes.length > 1 && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label={t("Draw with")}
          value={brush.shape}
          onChange={(shape) => set({ shape: shape as Shape })}
          data={shapes.map((value) => ({ value, label: SHAPES[value] }))}
        />
      )}
      {(brush.shape === "stroke" || brush.shape === "cut") && tool !== "eye" && tool !== "pick" && (
        <Dial
          label={t("Size")}
          unit="px"
          min={1}
          max={Math.round(longer(photo) / 8)}
          step={1}
          value={Math.round(2 * brush.radius * longer(photo))}
          onKeep={(px) => set({ radius: heldRadius(px / 2 / longer(photo)) })}
        />
      )}
      {shapes.length > 1 && tool !== "fill" && brush.shape !== "round" && brush.shape !== "graded" && (
        <Dial
          label={t("Softness")}
          unit="%"
          min={0}
          max={100}
          value={Math.round(brush.soft * 100)}
          onKeep={(soft) => set({ soft: soft / 100 })}
        />
      )}
      <Dial
        label={t("Strength")}
        unit="%"
        min={1}
        max={100}
        value={brush.strength}
        onKeep={(strength) => set({ strength })}
      />
      {covers && (
        <fieldset>
          <legend>{t("Source")}</legend>
          <div className={css.row}>
            <Button
              size="compact-xs"
              variant={brush.choosing ? "filled" : "default"}
              aria-pressed={brush.choosing}
              title={t("Choose the source (S), or Ctrl and a click")}
              onClick={() => set({ choosing: !brush.choosing })}
            >
              {brush.source ? t("Change source") : t("Choose source")}
            </Button>
            {tool === "heal" && (
              <Button
                size="compact-xs"
                variant="default"
                disabled={!brush.source}
                onClick={() => set({ source: undefined, choosing: false })}
              >
                {t("Automatic source")}
              </Button>
            )}
          </div>
          {brush.source && (
            <>
              <Tick on={brush.along} onChange={(along) => set({ along })}>
                {t("Source moves with the brush")}
              </Tick>
              <Dial
                label={t("Turned")}
                unit="°"
                min={-180}
                max={180}
                value={brush.turn_deg}
                onKeep={(turn_deg) => set({ turn_deg })}
              />
              <Dial
                label={t("Scale")}
                unit="×"
                min={0.2}
                max={5}
                step={0.05}
                value={brush.scale}
                onKeep={(scale) => set({ scale })}
              />
              <Tick on={brush.mirror} onChange={(mirror) => set({ mirror })}>
                {t("Mirrored")}
              </Tick>
            </>
          )}
        </fieldset>
      )}
      {(tool === "area" || (tool === "subject" && brush.cutFor === "backdrop")) && !brush.selected && (
        <Amounts
          values={brush.amounts}
          edges={brush.edges}
          onAmount={(name, value) => set({ amounts: { ...brush.amounts, [name]: value } })}
          onEdges={(edges) => set({ edges })}
        />
      )}
      <Proposals photo={photo.id} touches={touches} />
      <fieldset className={css.done}>
        <legend>{t("Edits")}</legend>
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label={t("Apply to")}
          value={scope}
          onChange={(value) => {
            setScope(value as Scope);
            set({ selected: undefined });
          }}
          data={[
            { value: "photo", label: t("The photo everywhere") },
            { value: "opening", label: t("This opening only") },
          ]}
        />
        <TouchList touches={touches} onGone={see.photo} onSee={see.touch} />
      </fieldset>
      <div className={css.foot}>
        <div className={css.row}>
          <Button size="compact-xs" variant="default" title={t("Fit (Home)")} onClick={see.whole}>
            {t("Fit")}
          </Button>
          <Button size="compact-xs" variant="default" title={t("100 % (End)")} onClick={see.pixels}>
            100 %
          </Button>
          <Button size="compact-xs" variant="default" title={t("Print size (P)")} onClick={see.print}>
            {t("Print size")}
          </Button>
          <small className="num">{Math.round(zoom * 100)} %</small>
          <KeysHelp tables={HELP} manual="retouching" />
        </div>
        <div className={css.row}>
          <Button
            size="compact-xs"
            variant={brush.before ? "filled" : "default"}
            aria-pressed={brush.before}
            title={t("Before (B)")}
            onClick={() => set({ before: !brush.before })}
          >
            {t("Before")}
          </Button>
          <Button
            size="compact-xs"
            variant={brush.wiper === undefined ? "default" : "filled"}
            aria-pressed={brush.wiper !== undefined}
            title={t("Split view (W)")}
            onClick={() => set({ wiper: brush.wiper === undefined ? 0.5 : undefined })}
          >
            {t("Split view")}
          </Button>
          <Button
            size="compact-xs"
            variant={tool === "pick" ? "filled" : "default"}
            aria-pressed={tool === "pick"}
            title={PICK}
            onClick={() => set({ tool: tool === "pick" ? "heal" : "pick" })}
          >
            {t("Pick a grey")}
          </Button>
        </div>
      </div>
    </div>
  );
}
