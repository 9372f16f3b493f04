import { Button } from "@mantine/core";
import { useState } from "react";
import { answer, api, type Touch } from "../../../api/client";
import { complain } from "../../../ui/complain";
import { t, tn } from "../../../words";
import { useBrush } from "./brush";
import css from "./retouch.module.css";
import { freshId } from "./seen";
import type { Touches } from "./useTouches";

const PROPOSALS = [
  ["dust", t("Dust")],
  ["blemishes", t("Blemishes in faces")],
  ["eyes", t("Flash in eyes")],
] as const;

/** What the machine would mend is marked; the person leaves out what is to stay, and takes the rest or none. */
export function Proposals({ photo, touches }: { photo: string; touches: Touches }) {
  const { proposed, set } = useBrush();
  const [busy, setBusy] = useState("");
  const [nothing, setNothing] = useState("");
  const look = async (what: (typeof PROPOSALS)[number][0]) => {
    setBusy(what);
    setNothing("");
    try {
      const found = await answer<Touch[]>(
        api.POST("/api/photos/{photo}/proposed", {
          params: { path: { photo } },
          body: { ...touches.looking, what },
        }),
      );
      set({ proposed: found.length ? found.map((touch) => ({ ...touch, id: freshId() })) : undefined });
      if (!found.length) setNothing(t("Nothing of that kind was found."));
    } catch (error) {
      complain(error);
    }
    setBusy("");
  };
  return (
    <fieldset>
      <legend>{t("Suggest")}</legend>
      {proposed ? (
        <>
          <p aria-live="polite">
            {tn(
              proposed.length,
              "One place is marked. Click it to leave it as it is.",
              "{n} places are marked. Click one to leave it as it is.",
            )}
          </p>
          <div className={css.row}>
            <Button
              size="compact-xs"
              onClick={() => {
                touches.put(proposed);
                set({ proposed: undefined });
              }}
            >
              {tn(proposed.length, "Heal it", "Heal all {n}")}
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => set({ proposed: undefined })}>
              {t("Dismiss all")}
            </Button>
          </div>
        </>
      ) : (
        <div className={css.row}>
          {PROPOSALS.map(([what, label]) => (
            <Button
              key={what}
              size="compact-xs"
              variant="default"
              loading={busy === what}
              disabled={!!busy}
              onClick={() => look(what)}
            >
              {label}
            </Button>
          ))}
        </div>
      )}
      {nothing && <p aria-live="polite">{nothing}</p>}
    </fieldset>
  );
}
