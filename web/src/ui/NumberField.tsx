import { TextInput } from "@mantine/core";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { isPending, usePending } from "../api/pending";
import { trimmed } from "./format";
import { useLeft } from "./typed";
import { inUnit, mmOf, useUnit } from "./units";

/** What some languages put about a number to tell which way it is read. */
const MARKS = /[\u200e\u200f\u061c]/g;

/** A figure as people type it: with a point or a comma, be its digits as wide as ideographs; undefined for what is none. */
export function figure(text: string): number | undefined {
  const plain = text.normalize("NFKC").replace(MARKS, "").trim().replace("−", "-").replace(",", ".");
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain)) return undefined;
  return Number(plain);
}

interface Props {
  label: string;
  value: number;
  min?: number;
  max?: number;
  step?: number;
  /** "mm" is a length, shown and typed in the job's unit. */
  unit?: string;
  disabled?: boolean;
  /** Without its label seen: the label only names it. */
  bare?: boolean;
  /** Only the server says what it comes to: what was kept is shown, and stepped on from, until it has. */
  late?: boolean;
  onKeep: (value: number) => void;
}

/**
 * A number that is typed: kept on Enter or on leaving, however it was typed; Escape takes the typing back; the up and down
 * arrows step it. What is out of range goes to the nearest that is not; what is counted, by whole steps of no unit, is whole.
 */
export function NumberField(props: Props) {
  const {
    label,
    value: known,
    min = -Infinity,
    max = Infinity,
    step = 1,
    unit = "",
    disabled,
    bare,
    late,
    onKeep,
  } = props;
  const job = useUnit();
  const isLength = unit === "mm";
  const shownUnit = isLength ? job.unit : unit;
  const digits = isLength ? job.digits : step >= 1 ? 0 : step >= 0.1 ? 1 : 2;
  const [text, setText] = useState<string>();
  const [sent, setSent] = useState<number>();
  const pending = usePending();
  useEffect(() => {
    if (!pending) setSent(undefined);
  }, [pending]);
  const value = sent ?? known;
  const give = (now: number) => {
    onKeep(now);
    if (late && isPending()) setSent(now);
  };
  const bad = text !== undefined && text.trim() !== "" && figure(text) === undefined;
  const stored = trimmed(isLength ? inUnit(value, job.unit) : value, digits);
  const box = useRef<HTMLInputElement>(null);
  const held = (value: number) =>
    Math.min(max, Math.max(min, unit === "" && digits === 0 ? Math.round(value) : value));
  const keep = () => {
    const typed = text === undefined ? undefined : figure(text);
    setText(undefined);
    if (typed === undefined || typed === figure(stored)) return;
    give(held(isLength ? mmOf(typed, job.unit) : typed));
  };
  useLeft(box, text !== undefined, keep);
  const press = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      keep();
      // Unless one has gone on meanwhile: selecting it would bring one back.
      requestAnimationFrame(() => document.activeElement === box.current && box.current?.select());
    } else if (event.key === "Escape" && text !== undefined) {
      event.stopPropagation();
      setText(undefined);
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const typed = text === undefined ? undefined : figure(text);
      const from = typed === undefined ? value : isLength ? mmOf(typed, job.unit) : typed;
      const by = (event.key === "ArrowUp" ? 1 : -1) * step * (event.shiftKey ? 10 : 1);
      setText(undefined);
      give(held(Math.round((from + by) * 1e6) / 1e6));
    }
  };
  return (
    <TextInput
      ref={box}
      size="xs"
      inputMode="decimal"
      label={bare ? undefined : shownUnit ? `${label} ${shownUnit}` : label}
      aria-label={bare ? label : undefined}
      error={bad}
      disabled={disabled}
      value={text ?? stored}
      onChange={(event) => setText(event.currentTarget.value)}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={keep}
      onKeyDown={press}
      classNames={{ input: "num" }}
    />
  );
}
