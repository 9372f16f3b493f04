import { type KeyboardEvent, type RefObject, useEffect, useLayoutEffect, useRef, useState } from "react";

/**
 * Keeps what was typed into a field when a press goes elsewhere, also where presses take no focus, and when the field goes:
 * before what is pressed acts, so that it belongs to what it was typed for.
 */
export function useLeft(field: RefObject<HTMLElement | null>, typed: boolean, keep: () => void) {
  const latest = useRef({ typed, keep });
  latest.current = { typed, keep };
  useEffect(() => {
    if (!typed) return;
    const press = (event: PointerEvent) => {
      if (!field.current?.contains(event.target as Node)) latest.current.keep();
    };
    document.addEventListener("pointerdown", press, true);
    return () => document.removeEventListener("pointerdown", press, true);
  }, [field, typed]);
  useLayoutEffect(
    () => () => {
      if (latest.current.typed) latest.current.keep();
    },
    [],
  );
}

/**
 * A line of words that is typed, kept on Enter or once the field is left, if it is another than what is stored. `typed` is
 * undefined while nobody types: what is stored is shown then, whoever stored it.
 */
export function useTyped(stored: string, onKeep: (typed: string) => void) {
  const [typed, setTyped] = useState<string>();
  const ref = useRef<HTMLInputElement>(null);
  const keep = () => {
    if (typed !== undefined && typed.trim() !== stored) onKeep(typed.trim());
    setTyped(undefined);
  };
  useLeft(ref, typed !== undefined, keep);
  const field = {
    ref,
    value: typed ?? stored,
    onChange: (event: { currentTarget: { value: string } }) => setTyped(event.currentTarget.value),
    onBlur: keep,
    onKeyDown: (event: KeyboardEvent) => event.key === "Enter" && keep(),
  };
  return { typed, field };
}
