/** The touches of a photo, wherever it lies or in one opening, and the edits that change them. */
import { useEffect, useRef, useState } from "react";
import type { Step, Touch } from "../../../api/client";
import { part, want } from "../../../api/parts";
import type { Held } from "../../../editing/fitting";
import { type Said, useChange } from "../../../editing/jobs";
import { stepsOf } from "../../../editing/standing";
import type { View } from "../../../editing/view";
import { withStep } from "../../opening/TonePart";

export type Scope = "photo" | "opening";

export function useTouches(state: View, now: Held, scope: Scope) {
  const { edit } = useChange(state);
  const { photo } = now;
  const { opening } = now.row;
  const name = state.own.photo_tones?.[photo.id]?.retouching ?? "";
  const [, fetched] = useState(0);
  useEffect(() => {
    if (name)
      want("retouchings", name).then(
        () => fetched((count) => count + 1),
        () => {},
      );
  }, [name]);
  // While a later state is fetched the list stands as it was: what is typed in it must not go.
  const known = useRef<Touch[]>([]);
  const fresh = name ? part("retouchings", name)?.touches : [];
  if (fresh) known.current = fresh;
  const everywhere = known.current;
  const own = state.filling.tones?.[opening]?.retouching?.touches ?? [];
  // As they were changed last, while that is on its way: the next change begins there.
  const under = useRef(new Map<string, Touch>());
  const mine = (scope === "photo" ? everywhere : own).map((touch) => under.current.get(touch.id) ?? touch);
  const said = (what: { put?: Touch[]; gone?: string[] }): Said => {
    const change = { put: what.put ?? [], gone: what.gone ?? [] };
    return scope === "photo"
      ? ({ op: "retouch_photo", photo: photo.id, ...change } as Said)
      : ({ op: "retouch_opening", opening, expect: photo.id, ...change } as Said);
  };
  const filling = own.length ? (state.own.fillings[state.sheet.id] ?? "") : "";
  const looking = { everywhere: name, filling, opening: filling ? opening : "" };
  return {
    /** Those of the scope in hand, first to last. */
    mine,
    other: (scope === "photo" ? own : everywhere).length,
    looking,
    /** What tells the tiles of the photo as it is now. */
    query: (steps: Step[]) =>
      new URLSearchParams({ ...looking, steps: steps.length ? JSON.stringify(steps) : "" }).toString(),
    /** And as it came. */
    bare: new URLSearchParams({ everywhere: "", filling: "", opening: "", steps: "" }).toString(),
    put: (put: Touch[], onFailed?: () => void, gesture?: string) =>
      edit(said({ put }), { gesture, onFailed }),
    change: (id: string, part: Partial<Touch>, gesture?: string) => {
      const was = under.current.get(id) ?? mine.find((touch) => touch.id === id);
      if (!was) return;
      const next = { ...was, ...part } as Touch;
      under.current.set(id, next);
      fetched((count) => count + 1);
      const done = () => {
        if (under.current.get(id) === next) under.current.delete(id);
        fetched((count) => count + 1);
      };
      // What is typed elsewhere goes before it, and is in it then.
      const now = () => said({ put: [under.current.get(id) ?? next] });
      edit(now, { gesture, onStored: done, onFailed: done });
    },
    remove: (gone: string[]) => edit(said({ gone })),
    balance: (values: { warmth?: number; tint?: number }) =>
      edit((view) => {
        const steps = stepsOf(view, photo, scope === "opening" ? opening : undefined);
        const recipe = { steps: withStep(steps, "white_balance", { ...values, on: true }) };
        return scope === "photo"
          ? { op: "mend_photo", edition: view.own.id, photo: photo.id, recipe }
          : { op: "mend_opening", opening, recipe, expect: photo.id };
      }),
  };
}

export type Touches = ReturnType<typeof useTouches>;
