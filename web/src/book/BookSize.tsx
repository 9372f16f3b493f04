import { Button, Select, Stack } from "@mantine/core";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { useLabs } from "../api/queries";
import { jobAddress } from "../editing/addresses";
import type { View } from "../editing/view";
import { asKept, type Who, WhoFor } from "../shelf/WhoFor";
import { Answer } from "../ui/Answer";
import { complain, say } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { listed } from "../ui/format";
import { t, tn } from "../words";
import css from "./book.module.css";

/** A job of its own that is this book in another size of its lab. */
export function BookSize({ state, onClose }: { state: View; onClose: () => void }) {
  const [, go] = useLocation();
  const labs = useLabs();
  const { job } = state;
  const now = job.book?.size;
  const bindery = (labs.data?.find((lab) => lab.id === state.lab.id) ?? state.lab).bindery;
  const sizes = (bindery?.sizes ?? []).filter((size) => size.id !== now?.id);
  const [chosen, setChosen] = useState("");
  const size = sizes.find((entry) => entry.id === chosen) ?? sizes[0];
  const [written, setWritten] = useState<Who>();
  const [busy, setBusy] = useState(false);
  if (!now) return null;
  const name = size ? `${job.name.slice(0, 100)}, ${size.name}` : "";
  const who = written ?? { name, customer: job.customer, order_number: "" };
  const begin = async () => {
    if (!size || !who.name.trim() || busy) return;
    setBusy(true);
    try {
      const { id, fitted } = await answer<{ id: string; fitted: string[] }>(
        api.POST("/api/jobs/{job}/another-size", {
          params: { path: { job: state.id } },
          body: { ...asKept(who), size: size.id, edition: state.own.id },
        }),
      );
      if (fitted.length)
        say(
          tn(
            fitted.length,
            "{names} was arranged by hand: it was fitted to the new size as it is. Check it.",
            "{names} were arranged by hand: they were fitted to the new size as they are. Check them.",
            { names: listed(fitted) },
          ),
        );
      go(jobAddress(id, {}, "plan"));
    } catch (error) {
      setBusy(false);
      complain(error);
    }
  };
  return (
    <Dialog onClose={onClose} title={t("Another size")}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          begin();
        }}
      >
        <Stack gap="sm">
          <Select
            label={t("Page size")}
            description={t("Now {name}", { name: now.name })}
            allowDeselect={false}
            value={size?.id ?? null}
            onChange={(value) => setChosen(value ?? "")}
            data={sizes.map((entry) => ({ value: entry.id, label: entry.name }))}
          />
          <WhoFor who={who} onChange={setWritten} />
          <p className={css.note}>
            {sizes.length
              ? t(
                  "This makes a new job. Photos keep their pages, and each spread is composed for the new size. Spreads that were arranged by hand are fitted as they are.",
                )
              : t("{lab} binds books of this size only. Choose another lab sheet first.", {
                  lab: state.lab.name,
                })}
          </p>
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" disabled={!size || !who.name.trim()} loading={busy}>
              {t("Create job")}
            </Button>
          </Answer>
        </Stack>
      </form>
    </Dialog>
  );
}
