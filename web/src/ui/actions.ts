/** What can be done on a screen or with a thing on it, as entries of a menu: buttons, keys, a right click and the finder share them. */
import { useEffect, useRef } from "react";
import { create } from "zustand";
import type { Commands, Key } from "./keys";

export interface Action {
  label: string;
  /** Its key, as it is shown. */
  keys?: string;
  run: () => unknown;
  /** What it fetches, where it is a file to be saved. */
  href?: string;
  /** Whether it means nothing just now. */
  isOff?: boolean;
  /** Whether it begins a new group of the menu. */
  starts?: boolean;
}

/** Actions in groups of a menu, named by their labels; what is named nowhere stays away. */
export const inGroups = (actions: readonly Action[], groups: readonly (readonly string[])[]): Action[] =>
  groups.flatMap((labels) =>
    labels
      .flatMap((label) => actions.find((action) => action.label === label) ?? [])
      .map((action, n) => ({ ...action, starts: n === 0 })),
  );

/** A file that the server makes, as an action. */
export const saveFile = (label: string, href: string): Action => ({
  label,
  href,
  run: () => location.assign(href),
});

/** A link as an action. */
export const goTo = (label: string, href: string, go: (href: string) => void): Action => ({
  label,
  run: () => go(href),
});

/** The entries of a table of keys that have a name, as actions: chosen from a menu they do what their key does. */
export const actionsOf = <Entry extends Key>(
  table: readonly Entry[],
  scopes: readonly Entry["scope"][],
  commands: Commands<Entry>,
): Action[] =>
  table
    .filter((entry) => entry.name && scopes.includes(entry.scope))
    .map((entry) => ({
      label: entry.name ?? "",
      keys: entry.shown.split(",")[0],
      run: () =>
        commands[entry.does as Entry["does"]](
          {
            key: entry.keys[0] ?? "",
            ctrlKey: entry.held === "ctrl",
            metaKey: false,
            altKey: entry.held === "alt",
            shiftKey: false,
            target: document.activeElement,
          },
          entry,
        ),
    }));

interface Screens {
  /** What can be done on the screen in view, asked for when it is needed. */
  actions: () => readonly Action[];
}

export const useScreens = create<Screens>(() => ({ actions: () => [] }));

/** Tells the finder what can be done on this screen as long as it is in view. */
export function useScreenActions(actions: () => readonly Action[]) {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    const actions = () => latest.current();
    useScreens.setState({ actions: actions });
    return () => {
      if (useScreens.getState().actions === actions) useScreens.setState({ actions: () => [] });
    };
  }, []);
}
