import { ActionIcon, Button, SegmentedControl } from "@mantine/core";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import { useState } from "react";
import { answer, api, type Touch } from "../../../api/client";
import type { Held } from "../../../editing/fitting";
import { complain } from "../../../ui/complain";
import { Dial } from "../../../ui/Dial";
import { Tick } from "../../../ui/Tick";
import { type Change, heldRadius, type Shape, shapesOf, type Tool, useBrush } from "./brush";
import css from "./retouch.module.css";
import { freshId, longer, nameOf } from "./seen";
import type { Scope, Touches } from "./useTouches";

const TOOLS: [Tool, string, string][] = [
  ["heal", "Heal", "H"],
  ["clone", "Clone", "C"],
  ["fill", "Fill", "F"],
  ["area", "Area", "A"],
  ["eye", "Eye", "E"],
];
const SHAPES: Record<Shape, string> = {
  stroke: "Brush",
  outlined: "Outline",
  round: "Round",
  graded: "Graded",
  cut: "Subject",
};
const AMOUNTS: [Change, string, number, number, number, string][] = [
  ["light", "Light", -4, 4, 0.05, "EV"],
  ["warmth", "Warmth", -100, 100, 1, ""],
  ["saturation", "Saturation", -100, 100, 1, ""],
  ["sharpness", "Sharp, soft", -100, 100, 1, ""],
];
const HINTS: Record<Tool, string> = {
  heal: "Draw over what is to go, or click a speck: a place to cover it from is found, and it runs over into what lies around.",
  clone: "Choose a source, then draw: it is laid down as it is.",
  fill: "Draw along a hair or a scratch: what lies on both sides runs on through it.",
  area: "Draw what is to change.",
  eye: "Click into a pupil that a flash made red or green.",
  pick: "Click on something that was grey or white.",
};
const PROPOSALS = [
  ["dust", "Dust"],
  ["blemishes", "Blemishes in faces"],
  ["eyes", "Flash in eyes"],
] as const;

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
  return (
    <div className={css.side}>
      {top}
      <div className={css.row}>
        {TOOLS.map(([name, label, key]) => (
          <Button
            key={name}
            size="compact-xs"
            variant={tool === name ? "filled" : "default"}
            aria-pressed={tool === name}
            title={`${label} (${key})`}
            onClick={() =>
              set({
                tool: name,
                shape: shapesOf(name).includes(brush.shape) ? brush.shape : "stroke",
                choosing: false,
              })
            }
          >
            {label}
          </Button>
        ))}
      </div>
      <p>
        {brush.choosing
          ? "Click where the source lies."
          : tool === "area" && brush.shape === "cut"
            ? "Draw along the middle of the subject: it is cut out, and all behind it changes."
            : HINTS[tool]}
      </p>
      {shapes.length > 0 && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="How it is drawn"
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
      {shapes.length > 0 && tool !== "fill" && brush.shape !== "round" && brush.shape !== "graded" && (
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
              {brush.source ? "Choose another" : "Choose it"}
            </Button>
            {tool === "heal" && (
              <Button
                size="compact-xs"
                variant="default"
                disabled={!brush.source}
                onClick={() => set({ source: undefined, choosing: false })}
              >
                Found by itself
              </Button>
            )}
          </div>
          {brush.source && (
            <>
              <Tick on={brush.along} onChange={(along) => set({ along })}>
                It moves along from stroke to stroke
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
      {tool === "area" && !brush.selected && (
        <Amounts
          values={brush.amounts}
          edges={brush.edges}
          onAmount={(name, value) => set({ amounts: { ...brush.amounts, [name]: value } })}
          onEdges={(edges) => set({ edges })}
        />
      )}
      <Proposals photo={photo.id} touches={touches} />
      <fieldset className={css.done}>
        <legend>What was done</legend>
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label="What is retouched"
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
        <List touches={touches} onGone={see.photo} onSee={see.touch} />
      </fieldset>
      <div className={css.foot}>
        <div className={css.row}>
          <Button size="compact-xs" variant="default" title="All of the photo (Home)" onClick={see.whole}>
            All of it
          </Button>
          <Button size="compact-xs" variant="default" title="Pixel for pixel (End)" onClick={see.pixels}>
            Pixel for pixel
          </Button>
          <Button size="compact-xs" variant="default" title="As large as it prints (P)" onClick={see.print}>
            Print size
          </Button>
          <small className="num">{Math.round(zoom * 100)} %</small>
        </div>
        <div className={css.row}>
          <Button
            size="compact-xs"
            variant={brush.before ? "filled" : "default"}
            aria-pressed={brush.before}
            title="As it was (B)"
            onClick={() => set({ before: !brush.before })}
          >
            As it was
          </Button>
          <Button
            size="compact-xs"
            variant={brush.wiper === undefined ? "default" : "filled"}
            aria-pressed={brush.wiper !== undefined}
            title="Half as it was (W)"
            onClick={() => set({ wiper: brush.wiper === undefined ? 0.5 : undefined })}
          >
            Half and half
          </Button>
          <Button
            size="compact-xs"
            variant={tool === "pick" ? "filled" : "default"}
            aria-pressed={tool === "pick"}
            title={HINTS.pick}
            onClick={() => set({ tool: tool === "pick" ? "heal" : "pick" })}
          >
            Pick a grey
          </Button>
        </div>
      </div>
    </div>
  );
}

function Amounts({
  values,
  edges,
  onAmount,
  onEdges,
}: {
  values: Record<Change, number>;
  edges: number;
  onAmount: (name: Change, value: number, gesture: string) => void;
  onEdges: (edges: number, gesture: string) => void;
}) {
  return (
    <>
      {AMOUNTS.map(([name, label, min, max, step, unit]) => (
        <Dial
          key={name}
          label={label}
          unit={unit}
          min={min}
          max={max}
          step={step}
          of={`Adjust.${name}`}
          value={values[name]}
          onKeep={(value, gesture) => onAmount(name, value, gesture)}
        />
      ))}
      <Dial
        label="Keeps to edges"
        unit="%"
        min={0}
        max={100}
        value={Math.round(edges * 100)}
        onKeep={(value, gesture) => onEdges(value / 100, gesture)}
      />
    </>
  );
}

function Proposals({ photo, touches }: { photo: string; touches: Touches }) {
  const { proposed, set } = useBrush();
  const [busy, setBusy] = useState("");
  const [nothing, setNothing] = useState("");
  const look = async (what: (typeof PROPOSALS)[number][0]) => {
    setBusy(what);
    setNothing("");
    try {
      const found = await answer<Touch[]>(
        api.POST("/api/photos/{photo}/proposed", {
          params: { path: { photo } },
          body: { ...touches.looking, what },
        }),
      );
      set({ proposed: found.length ? found.map((touch) => ({ ...touch, id: freshId() })) : undefined });
      if (!found.length) setNothing("Nothing of that kind was found.");
    } catch (error) {
      complain(error);
    }
    setBusy("");
  };
  return (
    <fieldset>
      <legend>Let it be proposed</legend>
      {proposed ? (
        <>
          <p aria-live="polite">
            {proposed.length === 1 ? "One place is" : `${proposed.length} places are`} marked. Click one to
            leave it as it is.
          </p>
          <div className={css.row}>
            <Button
              size="compact-xs"
              onClick={() => {
                touches.put(proposed);
                set({ proposed: undefined });
              }}
            >
              Mend {proposed.length === 1 ? "it" : `all ${proposed.length}`}
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => set({ proposed: undefined })}>
              Mend none
            </Button>
          </div>
        </>
      ) : (
        <div className={css.row}>
          {PROPOSALS.map(([what, label]) => (
            <Button
              key={what}
              size="compact-xs"
              variant="default"
              loading={busy === what}
              disabled={!!busy}
              onClick={() => look(what)}
            >
              {label}
            </Button>
          ))}
        </div>
      )}
      {nothing && <p aria-live="polite">{nothing}</p>}
    </fieldset>
  );
}

function List({
  touches,
  onSee,
  onGone,
}: {
  touches: Touches;
  onSee: (touch: Touch) => void;
  /** What was gone to is no more: keys go on at the photo. */
  onGone: () => void;
}) {
  const { selected, set } = useBrush();
  const { mine, other } = touches;
  const change = (touch: Touch, part: object, gesture?: string) =>
    touches.change(touch.id, part as Partial<Touch>, gesture);
  return (
    <>
      {!mine.length && <p>Nothing yet.</p>}
      {other > 0 && (
        <p>{other === 1 ? "One more touch is" : `${other} more touches are`} listed under the other.</p>
      )}
      <ol className={css.list} aria-label="Touches, the last first">
        {[...mine].reverse().map((touch, n) => (
          <li key={touch.id} data-selected={touch.id === selected || undefined} data-testid="touch">
            <div className={css.entry}>
              <input
                type="checkbox"
                checked={touch.on !== false}
                aria-label={`${nameOf(touch)}, shown`}
                onChange={(event) => change(touch, { on: event.currentTarget.checked })}
              />
              <button
                type="button"
                aria-expanded={touch.id === selected}
                onClick={() => {
                  set({ selected: touch.id === selected ? undefined : touch.id });
                  if (touch.id !== selected) onSee(touch);
                }}
              >
                <span className="num">{mine.length - n}</span> {nameOf(touch)}
              </button>
              <ActionIcon
                size={24}
                variant="subtle"
                color="gray"
                aria-label={`Take ${nameOf(touch)} away`}
                onClick={() => {
                  touches.remove([touch.id]);
                  if (touch.id === selected) set({ selected: undefined });
                  onGone();
                }}
              >
                <IconTrash size={14} />
              </ActionIcon>
            </div>
            {touch.id === selected && (
              <div className={css.inner}>
                <Dial
                  label="Strength"
                  unit="%"
                  min={0}
                  max={100}
                  value={touch.strength ?? 100}
                  onKeep={(strength, gesture) => change(touch, { strength }, gesture)}
                />
                {touch.kind === "adjust" && (
                  <>
                    <Amounts
                      values={{
                        light: touch.light ?? 0,
                        warmth: touch.warmth ?? 0,
                        saturation: touch.saturation ?? 0,
                        sharpness: touch.sharpness ?? 0,
                      }}
                      edges={touch.edges ?? 0}
                      onAmount={(name, value, gesture) => change(touch, { [name]: value }, gesture)}
                      onEdges={(edges, gesture) => change(touch, { edges }, gesture)}
                    />
                    {(touch.area.kind === "round" || touch.area.kind === "cut") && (
                      <Tick
                        on={touch.area.outside ?? false}
                        onChange={(outside) => change(touch, { area: { ...touch.area, outside } })}
                      >
                        All but what it encloses
                      </Tick>
                    )}
                  </>
                )}
                {touch.kind === "cover" && (
                  <SegmentedControl
                    size="xs"
                    fullWidth
                    aria-label="How it is covered"
                    value={touch.how ?? "heal"}
                    onChange={(how) => change(touch, { how })}
                    data={[
                      { value: "heal", label: "Heal" },
                      { value: "clone", label: "Clone" },
                      { value: "fill", label: "Fill" },
                    ]}
                  />
                )}
              </div>
            )}
          </li>
        ))}
      </ol>
      {mine.length > 1 && (
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => {
            touches.remove(mine.map(({ id }) => id));
            set({ selected: undefined });
            onGone();
          }}
        >
          Take all of it away
        </Button>
      )}
    </>
  );
}
