import { ActionIcon, Button, Menu, SegmentedControl } from "@mantine/core";
import IconDots from "@tabler/icons-react/icons/IconDots";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type JobCard } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import css from "./shelf.module.css";
import { asKept, type Who, WhoFor } from "./WhoFor";

/** What can be done with a job: begun again, exported, put away, deleted, brought back. */
export function JobMenu({ job }: { job: JobCard }) {
  const [, go] = useLocation();
  const [copying, setCopying] = useState(false);
  const path = { path: { job: job.id } };
  const run = async (call: Promise<{ data?: unknown; error?: unknown; response?: Response }>) => {
    try {
      await answer(call);
      client.invalidateQueries({ queryKey: ["jobs"] });
    } catch (error) {
      complain(error);
    }
  };
  const away = (on: boolean) => run(api.POST("/api/jobs/{job}/away", { params: { ...path, query: { on } } }));
  const remove = (on: boolean) => run(api.DELETE("/api/jobs/{job}", { params: { ...path, query: { on } } }));
  return (
    <>
      <Menu position="bottom-end" shadow="md">
        <Menu.Target>
          <ActionIcon variant="subtle" color="gray.9" aria-label={`More for ${job.name}`}>
            <IconDots size={16} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          {job.deleted ? (
            <Menu.Item onClick={() => remove(false)}>Bring back</Menu.Item>
          ) : (
            <>
              <Menu.Item onClick={() => setCopying(true)}>Begin another from it…</Menu.Item>
              <Menu.Item onClick={() => go(`/jobs/${job.id}/dispatch`)}>To dispatch</Menu.Item>
              <Menu.Item component="a" href={`/api/jobs/${job.id}/bundle`}>
                Save as a bundle
              </Menu.Item>
              {job.put_away ? (
                <Menu.Item onClick={() => away(false)}>Back to work</Menu.Item>
              ) : (
                <Menu.Item onClick={() => away(true)}>Put away</Menu.Item>
              )}
              <Menu.Item onClick={() => remove(true)}>Delete</Menu.Item>
            </>
          )}
        </Menu.Dropdown>
      </Menu>
      {copying && <Another job={job} onClose={() => setCopying(false)} />}
    </>
  );
}

const TAKES = {
  words: "Sheets, words, frames, tones and copies are kept; bring new photos in and fill.",
  sheets: "Empty sheets, with the words of their template.",
  all: "Photos, words and all that was fitted, as it stands now.",
};

/** Begins a job from another one. */
function Another({ job, onClose }: { job: JobCard; onClose: () => void }) {
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
    <Dialog onClose={onClose} title={`Begin from: ${job.name}`} centered>
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
          aria-label="What it takes along"
          value={keep}
          onChange={(value) => setKeep(value as typeof keep)}
          data={[
            { value: "words", label: "For new photos" },
            { value: "sheets", label: "Its sheets alone" },
            { value: "all", label: "All as it lies" },
          ]}
        />
        <p className={css.note}>{TAKES[keep]}</p>
        <Button type="submit" disabled={!name.trim()}>
          Begin
        </Button>
      </form>
    </Dialog>
  );
}
