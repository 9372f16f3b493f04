import { ActionIcon, Button } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import { useState } from "react";
import type { Touch } from "../../../api/client";
import { t, tn } from "../../../words";
import { turnedTo, useBrush } from "./brush";
import css from "./retouch.module.css";
import { cutOf, nameOf } from "./seen";
import { TouchFields } from "./TouchFields";
import type { Touches } from "./useTouches";

const MANY = 4; // alike ones in a row are listed as one from so many on

interface Props {
  touches: Touches;
  onSee: (touch: Touch) => void;
  /** What was gone to is no more: keys go on at the photo. */
  onGone: () => void;
}

/** What was done to a photo, the last first: each hidden, weaker, changed or taken away. */
export function TouchList(props: Props) {
  const { touches, onGone } = props;
  const set = useBrush((brush) => brush.set);
  const { mine, other } = touches;
  return (
    <>
      {!mine.length && <p>{t("No edits yet.")}</p>}
      {other > 0 && (
        <p>
          {tn(
            other,
            "One more touch is listed under the other.",
            "{n} more touches are listed under the other.",
          )}
        </p>
      )}
      <ol className={css.list} aria-label={t("Edits, newest first")}>
        {runsOf(mine).map(({ first, run }) =>
          run.length < MANY ? (
            run
              .map((touch, n) => <TouchRow key={touch.id} number={first + n} touch={touch} {...props} />)
              .reverse()
          ) : (
            <Run key={run[0]?.id} first={first} run={run} {...props} />
          ),
        )}
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
          {t("Delete all")}
        </Button>
      )}
    </>
  );
}

/** Touches that follow each other and are called alike, the last of these runs first; `first` is the number of its first. */
function runsOf(touches: readonly Touch[]): { first: number; run: Touch[] }[] {
  const runs: { first: number; run: Touch[] }[] = [];
  touches.forEach((touch, n) => {
    const last = runs.at(-1);
    if (last?.run[0] && nameOf(last.run[0]) === nameOf(touch)) last.run.push(touch);
    else runs.push({ first: n + 1, run: [touch] });
  });
  return runs.reverse();
}

/** Many alike, in one row that unfolds: they are hidden and taken away together, or one by one. */
function Run({ first, run, ...props }: { first: number; run: Touch[] } & Props) {
  const { touches, onGone } = props;
  const { selected, set } = useBrush();
  const [open, setOpen] = useState(false);
  const unfolded = open || run.some(({ id }) => id === selected);
  const name = `${run.length} × ${nameOf(run[0] as Touch)}`;
  const shown = run.filter(({ on }) => on !== false).length;
  return (
    <>
      <li data-testid="run">
        <div className={css.entry}>
          <input
            type="checkbox"
            checked={shown > 0}
            ref={(box) => {
              if (box) box.indeterminate = shown > 0 && shown < run.length;
            }}
            aria-label={t("{name}, shown", { name })}
            onChange={() => touches.put(run.map((touch) => ({ ...touch, on: shown === 0 })))}
          />
          <button
            type="button"
            aria-expanded={unfolded}
            onClick={() => {
              if (unfolded) set({ selected: undefined });
              setOpen(!unfolded);
            }}
          >
            {name}
            <IconChevronDown size={14} data-open={unfolded || undefined} />
          </button>
          <ActionIcon
            size={24}
            variant="subtle"
            color="gray"
            aria-label={t("Delete {name}", { name })}
            onClick={() => {
              touches.remove(run.map(({ id }) => id));
              onGone();
            }}
          >
            <IconTrash size={14} />
          </ActionIcon>
        </div>
      </li>
      {unfolded &&
        run
          .map((touch, n) => <TouchRow key={touch.id} number={first + n} touch={touch} {...props} />)
          .reverse()}
    </>
  );
}

function TouchRow({ number, touch, touches, onSee, onGone }: { number: number; touch: Touch } & Props) {
  const brush = useBrush();
  const { selected, set } = brush;
  return (
    <li data-selected={touch.id === selected || undefined} data-testid="touch">
      <div className={css.entry}>
        <input
          type="checkbox"
          checked={touch.on !== false}
          aria-label={t("{touch}, shown", { touch: nameOf(touch) })}
          onChange={(event) => touches.change(touch.id, { on: event.currentTarget.checked })}
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
          <span className="num">{number}</span> {nameOf(touch)}
        </button>
        <ActionIcon
          size={24}
          variant="subtle"
          color="gray"
          aria-label={t("Delete {touch}", { touch: nameOf(touch) })}
          onClick={() => {
            touches.remove([touch.id]);
            if (touch.id === selected) set({ selected: undefined });
            onGone();
          }}
        >
          <IconTrash size={14} />
        </ActionIcon>
      </div>
      {touch.id === selected && <TouchFields touch={touch} touches={touches} />}
    </li>
  );
}
