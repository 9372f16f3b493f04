import { useCallback, useEffect, useRef, useState } from "react";
import { pending } from "../api/pending";

/**
 * A value that is typed or slid: shown at once, kept a moment later. One run of changes is one gesture, undone as one.
 * `shown` is what was typed until what is stored says the same or something else.
 */
export function useKept<T>(stored: T, keep: (value: T, gesture: string) => void, after = 150) {
  const [typed, setTyped] = useState<T>();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const run = useRef({ gesture: "", at: 0 });
  const latest = useRef({ keep, typed });
  latest.current = { keep, typed };
  const pendingUntil = useRef<() => void>(undefined);
  const send = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    const { keep, typed } = latest.current;
    if (typed !== undefined) keep(typed, run.current.gesture);
    pendingUntil.current?.();
  }, []);
  const change = (value: T) => {
    if (Date.now() - run.current.at > 1500) run.current.gesture = `run-${crypto.randomUUID()}`;
    run.current.at = Date.now();
    setTyped(value);
    latest.current.typed = value;
    // Not put off by further changes, so that the picture follows a slide.
    if (timer.current !== undefined) return;
    pendingUntil.current = pending();
    timer.current = setTimeout(send, after);
  };
  const seen = useRef(stored);
  useEffect(() => {
    if (seen.current !== stored && timer.current === undefined) setTyped(undefined);
    seen.current = stored;
  }, [stored]);
  useEffect(
    () => () => {
      if (timer.current !== undefined) send();
    },
    [send],
  );
  /** Forgets what was typed and is not kept yet. */
  const drop = () => {
    clearTimeout(timer.current);
    timer.current = undefined;
    pendingUntil.current?.();
    setTyped(undefined);
  };
  return { shown: typed ?? stored, change, drop };
}
