import { Button, SegmentedControl } from "@mantine/core";
import type { Touch } from "../../../api/client";
import type { Held } from "../../../editing/fitting";
import { Dial } from "../../../ui/Dial";
import { KeysHelp, type KeyTable } from "../../../ui/KeysHelp";
import { Tick } from "../../../ui/Tick";
import { Amounts } from "./Amounts";
import { heldRadius, type Shape, shapesOf, turnedTo, useBrush } from "./brush";
import { RETOUCH_KEYS, TOOLS, WITH_THE_MOUSE } from "./keys";
import { Proposals } from "./Proposals";
import css from "./retouch.module.css";
import { cutOf, longer } from "./seen";
import { TouchList } from "./TouchList";
import type { Scope, Touches } from "./useTouches";

const SHAPES: Record<Shape, string> = {
  stroke: "Brush",
  outlined: "Outline",
  round: "Round",
  graded: "Gradient",
  cut: "Subject",
};
const PICK = "Click on something that was grey or white.";
const HELP: readonly KeyTable[] = [
  ["On the photo", [...RETOUCH_KEYS.filter(({ scope }) => scope === "photo"), ...WITH_THE_MOUSE]],
  ["Anywhere in the room", RETOUCH_KEYS.filter(({ scope }) => scope === "room")],
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
          ? "Click the source."
          : more
            ? `Draw over what is to ${brush.cutting === "more" ? "come to" : "go from"} the subject.`
            : (TOOLS.find((one) => one.tool === tool)?.hint ?? PICK)}
      </p>
      {tool === "subject" && !cutOf(chosen) && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="Use of the subject"
          value={brush.cutFor}
          onChange={(value) => set({ cutFor: value as "free" | "backdrop" })}
          data={[
            { value: "free", label: "Stand free" },
            { value: "backdrop", label: "Change background" },
          ]}
        />
      )}
      {tool === "subject" && cutOf(chosen) && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="Next stroke"
          value={brush.cutting}
          onChange={(value) => set({ cutting: value as "anew" | "more" | "less" })}
          data={[
            { value: "anew", label: "New subject" },
            { value: "more", label: "Add to subject" },
            { value: "less", label: "Subtract" },
          ]}
        />
      )}
      {shapes.length > 1 && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="Draw with"
          value={brush.shape}
          onChange={(shape) => set({ shape: shape as Shape })}
          data={shapes.map((value) => ({ value, label: SHAPES[value] }))}
        />
      )}
      {(brush.shape === "stroke" || brush.shape === "cut") && tool !== "eye" && tool !== "pick" && (
        <Dial
          label="Size"
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
          label="Softness"
          unit="%"
          min={0}
          max={100}
          value={Math.round(brush.soft * 100)}
          onKeep={(soft) => set({ soft: soft / 100 })}
        />
      )}
      <Dial
        label="Strength"
        unit="%"
        min={1}
        max={100}
        value={brush.strength}
        onKeep={(strength) => set({ strength })}
      />
      {covers && (
        <fieldset>
          <legend>Source</legend>
          <div className={css.row}>
            <Button
              size="compact-xs"
              variant={brush.choosing ? "filled" : "default"}
              aria-pressed={brush.choosing}
              title="Choose the source (S), or Ctrl and a click"
              onClick={() => set({ choosing: !brush.choosing })}
            >
              {brush.source ? "Change source" : "Choose source"}
            </Button>
            {tool === "heal" && (
              <Button
                size="compact-xs"
                variant="default"
                disabled={!brush.source}
                onClick={() => set({ source: undefined, choosing: false })}
              >
                Automatic source
              </Button>
            )}
          </div>
          {brush.source && (
            <>
              <Tick on={brush.along} onChange={(along) => set({ along })}>
                Source moves with the brush
              </Tick>
              <Dial
                label="Turned"
                unit="°"
                min={-180}
                max={180}
                value={brush.turn_deg}
                onKeep={(turn_deg) => set({ turn_deg })}
              />
              <Dial
                label="Scale"
                unit="×"
                min={0.2}
                max={5}
                step={0.05}
                value={brush.scale}
                onKeep={(scale) => set({ scale })}
              />
              <Tick on={brush.mirror} onChange={(mirror) => set({ mirror })}>
                Mirrored
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
        <legend>Edits</legend>
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="Apply to"
          value={scope}
          onChange={(value) => {
            setScope(value as Scope);
            set({ selected: undefined });
          }}
          data={[
            { value: "photo", label: "The photo everywhere" },
            { value: "opening", label: "This opening only" },
          ]}
        />
        <TouchList touches={touches} onGone={see.photo} onSee={see.touch} />
      </fieldset>
      <div className={css.foot}>
        <div className={css.row}>
          <Button size="compact-xs" variant="default" title="Fit (Home)" onClick={see.whole}>
            Fit
          </Button>
          <Button size="compact-xs" variant="default" title="100 % (End)" onClick={see.pixels}>
            100 %
          </Button>
          <Button size="compact-xs" variant="default" title="Print size (P)" onClick={see.print}>
            Print size
          </Button>
          <small className="num">{Math.round(zoom * 100)} %</small>
          <KeysHelp tables={HELP} manual="retouching" />
        </div>
        <div className={css.row}>
          <Button
            size="compact-xs"
            variant={brush.before ? "filled" : "default"}
            aria-pressed={brush.before}
            title="Before (B)"
            onClick={() => set({ before: !brush.before })}
          >
            Before
          </Button>
          <Button
            size="compact-xs"
            variant={brush.wiper === undefined ? "default" : "filled"}
            aria-pressed={brush.wiper !== undefined}
            title="Split view (W)"
            onClick={() => set({ wiper: brush.wiper === undefined ? 0.5 : undefined })}
          >
            Split view
          </Button>
          <Button
            size="compact-xs"
            variant={tool === "pick" ? "filled" : "default"}
            aria-pressed={tool === "pick"}
            title={PICK}
            onClick={() => set({ tool: tool === "pick" ? "heal" : "pick" })}
          >
            Pick a grey
          </Button>
        </div>
      </div>
    </div>
  );
}
