import { Button, SegmentedControl } from "@mantine/core";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type JobCard } from "../api/client";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";
import css from "./shelf.module.css";
import { asKept, type Who, WhoFor } from "./WhoFor";

const TAKES = {
  words: t("Sheets, words, frames, tones and copies are kept; bring new photos in and fill."),
  sheets: t("Empty sheets, with the words of their template."),
  all: t("Photos, words and fits as they are now."),
};

/** Begins a job from another one. */
export function NewJobFrom({ job, onClose }: { job: JobCard; onClose: () => void }) {
  const [, go] = useLocation();
  const [who, setWho] = useState<Who>({
    name: `${job.name}, again`.slice(0, 120),
    customer: job.customer,
    order_number: "",
  });
  const [keep, setKeep] = useState<"all" | "words" | "sheets">("words");
  const { name } = who;
  const begin = async () => {
    try {
      const { id } = await answer<{ id: string }>(
        api.POST("/api/jobs/{job}/duplicate", {
          params: { path: { job: job.id } },
          body: { ...asKept(who), keep },
        }),
      );
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Dialog onClose={onClose} title={t("New job from {name}", { name: job.name })} centered>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) begin();
        }}
      >
        <WhoFor who={who} onChange={setWho} />
        <SegmentedControl
          my={12}
          size="xs"
          fullWidth
          aria-label={t("Copy")}
          value={keep}
          onChange={(value) => setKeep(value as typeof keep)}
          data={[
            { value: "words", label: t("Looks and words, new photos") },
            { value: "sheets", label: t("Empty sheets only") },
            { value: "all", label: t("Everything") },
          ]}
        />
        <p className={css.note}>{TAKES[keep]}</p>
        <Button type="submit" disabled={!name.trim()}>
          {t("Create job")}
        </Button>
      </form>
    </Dialog>
  );
}
