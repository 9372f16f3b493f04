import type { StoreApi, UseBoundStore } from "zustand";
import { useShallow } from "zustand/react/shallow";

/** Some of what a store holds: whoever asks is drawn anew when one of these changes, and not when something else does. */
export const usePicked = <State, Name extends keyof State>(
  store: UseBoundStore<StoreApi<State>>,
  ...names: Name[]
): Pick<State, Name> =>
  store(
    useShallow((state) => Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<State, Name>),
  );
