/** The touches of a photo, wherever it lies or in one opening, as they are once all that is on its way is stored; and edits of them. */
import { useEffect, useRef, useState } from "react";
import type { Step, Touch } from "../../../api/client";
import { part, want } from "../../../api/parts";
import { type Said, useChange } from "../../../editing/changes";
import type { Held } from "../../../editing/fitting";
import type { Done } from "../../../editing/jobs";
import { stepsOf } from "../../../editing/standing";
import { applyTouches, type View } from "../../../editing/view";
import { withStep } from "../../opening/TonePart";

export type Scope = "photo" | "opening";
/** Which stored retouching the server looks at, by names of parts. */
export interface Looking {
  everywhere: string;
  filling: string;
  opening: string;
}

/** Touches that are on their way and have something to be found by the server first. */
const sought = new Set<string>();

export function useTouches(state: View, now: Held, scope: Scope) {
  const { edit, editLater } = useChange(state);
  const { photo } = now;
  const { opening } = now.row;
  const nameIn = (view: View) => view.own.photo_tones?.[photo.id]?.retouching ?? "";
  const name = nameIn(state);
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
  const stored = name ? part("retouchings", name)?.touches : [];
  const coming = (view: View, touches: Touch[]) =>
    (view.retouching ?? []).reduce(
      (all, one) => (one.photo === photo.id ? applyTouches(all, one) : all),
      touches,
    );
  const everywhere = coming(state, stored ?? known.current);
  known.current = everywhere;
  const ownIn = (view: View) => view.filling.tones?.[opening]?.retouching?.touches ?? [];
  const touchesHere = ownIn(state);
  const mine = scope === "photo" ? everywhere : touchesHere;
  const mineIn = (view: View) =>
    scope === "photo"
      ? coming(view, part("retouchings", nameIn(view))?.touches ?? known.current)
      : ownIn(view);
  const said = (what: { put?: Touch[]; gone?: string[] }): Said => {
    const change = { put: what.put ?? [], gone: what.gone ?? [] };
    return scope === "photo"
      ? { op: "retouch_photo", photo: photo.id, ...change }
      : { op: "retouch_opening", opening, expect: photo.id, ...change };
  };
  const fillingIn = (view: View) => view.own.fillings[view.sheet.id] ?? "";
  const ownStored = (view: View) =>
    part("fillings", fillingIn(view))?.tones?.[opening]?.retouching?.touches ?? [];
  const lookingIn = (view: View): Looking => {
    const is = ownStored(view).length > 0;
    return { everywhere: nameIn(view), filling: is ? fillingIn(view) : "", opening: is ? opening : "" };
  };
  const looking = lookingIn(state);
  const stepsIn = (view: View) => stepsOf(view, photo, scope === "opening" ? opening : undefined);
  const storedIds = new Set([...(stored ?? []), ...ownStored(state)].map(({ id }) => id));
  return {
    /** Those of the scope in hand, first to last. */
    mine,
    other: (scope === "photo" ? touchesHere : everywhere).length,
    looking,
    /** Whether a touch is to come: on its way, or being looked for. */
    expects: (id: string) =>
      sought.has(id) ||
      everywhere.some((touch) => touch.id === id) ||
      touchesHere.some((touch) => touch.id === id),
    /** Whether a touch is in the photo as ``query`` tells it. */
    has: (id: string) => storedIds.has(id) && !sought.has(id),
    /** What tells the tiles of the photo as it is now. */
    query: (steps: Step[]) =>
      new URLSearchParams({ ...looking, steps: steps.length ? JSON.stringify(steps) : "" }).toString(),
    /** And as it came. */
    bare: new URLSearchParams({ everywhere: "", filling: "", opening: "", steps: "" }).toString(),
    put: (put: Touch[]) => edit(said({ put })),
    /** Puts what the server finds in the photo as it is then; `id` tells the touch until it is found, which `meanwhile` shows. */
    putFound: (
      id: string,
      find: (looking: Looking, mine: Touch[]) => Promise<Touch[]>,
      { meanwhile, onStored }: { meanwhile?: Touch } & Pick<Done, "onStored"> = {},
    ) => {
      sought.add(id);
      const end = () => {
        sought.delete(id);
        fetched((count) => count + 1);
      };
      const shown = meanwhile && said({ put: [meanwhile] });
      editLater(
        async (view) => {
          if (nameIn(view)) await want("retouchings", nameIn(view));
          const put = await find(lookingIn(view), mineIn(view));
          end();
          return put.length ? said({ put }) : undefined;
        },
        { meanwhile: shown, onStored, onFailed: end },
      );
    },
    change: (id: string, next: Partial<Touch>, gesture?: string) => {
      const before = mine.find((touch) => touch.id === id) as Record<string, unknown> | undefined;
      const changed = Object.fromEntries(
        Object.entries(next).filter(([key, value]) => before?.[key] !== value),
      );
      const make = (view: View) => {
        const was = mineIn(view).find((touch) => touch.id === id);
        return was && said({ put: [{ ...was, ...changed } as Touch] });
      };
      if (!sought.has(id)) edit(make, { gesture });
      else
        editLater(
          async (view) => {
            if (nameIn(view)) await want("retouchings", nameIn(view));
            return make(view);
          },
          { gesture, meanwhile: make(state) },
        );
    },
    remove: (gone: string[]) => edit(said({ gone })),
    /** The white balance that the server finds in the photo as it is then. */
    balanceFound: (find: (steps: Step[], looking: Looking) => Promise<{ warmth?: number; tint?: number }>) =>
      editLater(async (view) => {
        const { warmth, tint } = await find(stepsIn(view), lookingIn(view));
        const recipe = { steps: withStep(stepsIn(view), "white_balance", { warmth, tint, on: true }) };
        return scope === "photo"
          ? { op: "mend_photo", edition: view.own.id, photo: photo.id, recipe }
          : { op: "mend_opening", opening, recipe, expect: photo.id };
      }),
  };
}

export type Touches = ReturnType<typeof useTouches>;
