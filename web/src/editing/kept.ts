import { useCallback, useEffect, useRef, useState } from "react";
import { pending } from "../api/pending";
import { waits } from "./flushing";

/**
 * A value that is typed or slid: shown at once, kept a moment later, or before any other change. One run of changes is one
 * gesture, undone as one. `shown` is what was typed until it has been sent; from then on the job itself shows it.
 */
export function useKept<T>(stored: T, keep: (value: T, gesture: string) => void, after = 150) {
  const [typed, setTyped] = useState<T>();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const run = useRef({ gesture: "", at: 0 });
  const latest = useRef({ keep, typed });
  latest.current.keep = keep;
  const ends = useRef<() => void>(undefined);
  const end = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    ends.current?.();
    ends.current = undefined;
  }, []);
  const send = useCallback(() => {
    if (timer.current === undefined) return;
    const { keep, typed } = latest.current;
    end();
    latest.current.typed = undefined;
    if (typed !== undefined) keep(typed, run.current.gesture);
    setTyped(undefined);
  }, [end]);
  const change = (value: T) => {
    if (Date.now() - run.current.at > 1500) run.current.gesture = `run-${crypto.randomUUID()}`;
    run.current.at = Date.now();
    setTyped(value);
    latest.current.typed = value;
    // Not put off by further changes, so that the picture follows a slide.
    if (timer.current !== undefined) return;
    const stored = pending();
    const gone = waits(send);
    ends.current = () => {
      stored();
      gone();
    };
    timer.current = setTimeout(send, after);
  };
  useEffect(() => send, [send]);
  /** Forgets what was typed and is not kept yet. */
  const drop = () => {
    end();
    latest.current.typed = undefined;
    setTyped(undefined);
  };
  return { shown: typed ?? stored, change, drop };
}
