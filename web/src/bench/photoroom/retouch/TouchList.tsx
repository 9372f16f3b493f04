import { ActionIcon, Button, SegmentedControl } from "@mantine/core";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import type { Touch } from "../../../api/client";
import { ColourInput } from "../../../ui/colour/ColourInput";
import { Dial } from "../../../ui/Dial";
import { Tick } from "../../../ui/Tick";
import { Amounts } from "./Amounts";
import { turnedTo, useBrush } from "./brush";
import css from "./retouch.module.css";
import { cutOf, nameOf } from "./seen";
import type { Touches } from "./useTouches";

/** What was done to a photo, the last first: each hidden, weaker, changed or taken away. */
export function TouchList({
  touches,
  onSee,
  onGone,
}: {
  touches: Touches;
  onSee: (touch: Touch) => void;
  /** What was gone to is no more: keys go on at the photo. */
  onGone: () => void;
}) {
  const brush = useBrush();
  const { selected, set } = brush;
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
                  // What is cut out is altered by strokes of the tool that cut it out.
                  const tool = cutOf(touch) && touch.id !== selected ? turnedTo("subject", brush) : {};
                  set({ ...tool, selected: touch.id === selected ? undefined : touch.id });
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
                    <div className={css.colour}>
                      <ColourInput
                        bare
                        label="In a colour"
                        placeholder="its own colour"
                        value={touch.colour ?? ""}
                        onChange={(colour) => change(touch, { colour })}
                      />
                      <Button
                        size="compact-xs"
                        variant="default"
                        disabled={!touch.colour}
                        onClick={() => change(touch, { colour: null, flat: 0 })}
                      >
                        Its own colour
                      </Button>
                    </div>
                    {touch.colour && (
                      <Dial
                        label="Flat"
                        unit="%"
                        min={0}
                        max={100}
                        value={Math.round((touch.flat ?? 0) * 100)}
                        onKeep={(flat, gesture) => change(touch, { flat: flat / 100 }, gesture)}
                      />
                    )}
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
                {touch.kind === "free" && (
                  <>
                    <Dial
                      label="Free down to"
                      unit="%"
                      min={0}
                      max={100}
                      value={Math.round((touch.down ?? 0.5) * 100)}
                      onKeep={(down, gesture) => change(touch, { down: down / 100 }, gesture)}
                    />
                    <Dial
                      label="Keeps to edges"
                      unit="%"
                      min={0}
                      max={100}
                      value={Math.round((touch.edges ?? 0) * 100)}
                      onKeep={(edges, gesture) => change(touch, { edges: edges / 100 }, gesture)}
                    />
                    <Tick on={touch.backdrop !== false} onChange={(backdrop) => change(touch, { backdrop })}>
                      The photo shows behind it
                    </Tick>
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
