/** The hand: photos picked up and waiting to be put down, one per click; or what lies in an opening, to be swapped. */

import { useCallback } from "react";
import { spot, useChange } from "../../editing/changes";
import { type Hand, useBench } from "../../editing/store";
import type { View } from "../../editing/view";

/**
 * The photos in hand after a click on one of the pile: alone; with `range` all from the last one picked to this one, in
 * the pile's order; with `add` this one more, or one fewer. Undefined when the hand is empty.
 */
export function picked(
  pile: readonly string[],
  hand: Hand | undefined,
  photo: string,
  how: { range: boolean; add: boolean },
): Hand | undefined {
  const held = hand?.kind === "photos" ? hand.photos : [];
  const last = held.at(-1);
  if (how.range && last !== undefined && last !== photo) {
    const from = pile.indexOf(last);
    const to = pile.indexOf(photo);
    if (from < 0 || to < 0) return { kind: "photos", photos: [photo] };
    const run = from < to ? pile.slice(from + 1, to + 1) : pile.slice(to, from).reverse();
    return { kind: "photos", photos: [...held, ...run.filter((entry) => !held.includes(entry))] };
  }
  if (how.add) {
    const photos = held.includes(photo) ? held.filter((entry) => entry !== photo) : [...held, photo];
    return photos.length ? { kind: "photos", photos } : undefined;
  }
  return held.length === 1 && held[0] === photo ? undefined : { kind: "photos", photos: [photo] };
}

/** The hand without its next photo. */
export function rest(hand: Hand): Hand | undefined {
  return hand.kind === "photos" && hand.photos.length > 1
    ? { kind: "photos", photos: hand.photos.slice(1) }
    : undefined;
}

/** The hand with its next photo moved to the end. */
export function skipped(hand: Hand): Hand {
  return hand.kind === "photos"
    ? { kind: "photos", photos: [...hand.photos.slice(1), ...hand.photos.slice(0, 1)] }
    : hand;
}

/** Puts the next thing of the hand into an opening; what is left stays in hand. */
export function usePutDown(view: View) {
  const { edit } = useChange(view);
  return useCallback(
    (opening: string) => {
      const { hand, set } = useBench.getState();
      if (!hand) return;
      const photo = hand.kind === "photos" ? hand.photos[0] : undefined;
      if (photo) edit({ op: "put", opening, photo });
      else if (hand.kind === "opening" && hand.opening !== opening)
        edit((now) => ({
          op: "swap",
          first: spot(now, hand.opening),
          second: spot(now, opening),
          keep_fit: false,
        }));
      set({ hand: rest(hand), selected: opening });
    },
    [edit],
  );
}
