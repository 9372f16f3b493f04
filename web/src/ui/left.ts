import { type RefObject, useEffect, useLayoutEffect, useRef } from "react";

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
