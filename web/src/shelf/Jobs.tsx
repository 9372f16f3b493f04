import { ActionIcon, Button, Menu, SegmentedControl, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import IconDots from "@tabler/icons-react/icons/IconDots";
import IconSearch from "@tabler/icons-react/icons/IconSearch";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { answer, api, coverPicture, type JobCard } from "../api/client";
import { type Asked, client, useJobs } from "../api/queries";
import { Choice } from "../ui/Choice";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { moment, when } from "../ui/when";
import css from "./shelf.module.css";
import { asKept, type Who, WhoFor } from "./WhoFor";

const ROW = 74;

/** All jobs: found by name, customer, order number or photo; those at work, put away, or deleted. */
export function Jobs() {
  const [typed, setTyped] = useState("");
  const [words] = useDebouncedValue(typed, 180);
  const [which, setWhich] = useState<Asked["which"]>("work");
  const [sort, setSort] = useState<Asked["sort"]>("changed");
  const jobs = useJobs({ words, which, sort });
  const found = jobs.data?.pages.flatMap((page) => page.jobs) ?? [];
  const count = jobs.data?.pages.at(-1)?.count ?? 0;
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: found.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    getItemKey: (at) => found[at]?.id ?? at,
    overscan: 6,
  });
  const shown = list.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = jobs;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && last >= found.length - 12) fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage, last, found.length]);
  return (
    <section className={css.jobs} aria-label="Jobs">
      <div className={css.find}>
        <h2>Jobs</h2>
        <TextInput
          size="xs"
          aria-label="Find a job"
          placeholder="Name, customer, order number, photo"
          leftSection={<IconSearch size={14} />}
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <Choice
          bare
          label="Sorted by"
          value={sort}
          onChange={(value) => setSort(value as Asked["sort"])}
          data={[
            { value: "changed", label: "last changed" },
            { value: "created", label: "newest" },
            { value: "name", label: "by name" },
            { value: "customer", label: "by customer" },
          ]}
        />
      </div>
      <div className={css.find}>
        <SegmentedControl
          size="xs"
          aria-label="Which jobs"
          value={which}
          onChange={(value) => setWhich(value as Asked["which"])}
          data={[
            { value: "work", label: "At work" },
            { value: "workshop", label: "In the workshop" },
            { value: "away", label: "Put away" },
            { value: "deleted", label: "Deleted" },
          ]}
        />
        <span className="num" role="status">
          {jobs.data ? plural(count, which === "workshop" ? "template" : "job") : ""}
        </span>
      </div>
      <div className={css.list} ref={scroller}>
        {jobs.data && count === 0 && (
          <p className={css.none}>
            {words
              ? "No job has all these words. Look among those put away, or use fewer."
              : {
                  work: "No job yet. Choose a template to start one.",
                  workshop: "No template is in the workshop. Make one on the shelf beside.",
                  away: "None is put away.",
                  deleted: "None is deleted.",
                }[which]}
          </p>
        )}
        {jobs.error && !jobs.data && <p className={css.none}>{(jobs.error as Error).message}</p>}
        <div style={{ height: list.getTotalSize(), position: "relative" }}>
          {shown.map(({ index, key, start }) => {
            const job = found[index];
            return (
              job && (
                <div key={key} className={css.slot} style={{ top: start, height: ROW }}>
                  <JobRow job={job} />
                </div>
              )
            );
          })}
        </div>
      </div>
    </section>
  );
}

function JobRow({ job }: { job: JobCard }) {
  const inside = (
    <>
      <span className={css.jobPicture}>
        {job.picture && <PictureWhenSeen src={coverPicture(job, 200)} alt="" />}
      </span>
      <span className={css.jobText}>
        <strong>{job.name}</strong>
        {!job.unreadable && (
          <span>
            {job.making
              ? "a template in the workshop"
              : [job.customer || "no customer named", job.order_number].filter(Boolean).join(" · ")}
          </span>
        )}
        {job.unreadable ? (
          <span className={css.whole}>
            <Mark status="stop" /> {job.unreadable}
          </span>
        ) : (
          <span className={`${css.marks} num`}>
            <State job={job} />
            <span>
              {`${job.filled} of ${plural(job.openings, "opening")}`}
              {job.sheets > 1 && `, ${plural(job.sheets, "sheet")}`}
            </span>
          </span>
        )}
      </span>
      <time
        hidden={!!job.unreadable}
        dateTime={job.changed}
        title={`Begun ${moment(job.created)}, last changed ${moment(job.changed)}`}
        className="num"
      >
        {when(job.changed)}
      </time>
    </>
  );
  return (
    <div className={css.jobRow}>
      {job.deleted || job.unreadable ? (
        <span className={css.job}>{inside}</span>
      ) : (
        <Link href={job.making ? `/jobs/${job.id}/workshop` : `/jobs/${job.id}`} className={css.job}>
          {inside}
        </Link>
      )}
      {job.unreadable && <LastGood job={job} />}
      <JobMenu job={job} />
    </div>
  );
}

/** The way out for a job that cannot be read as it stands. */
function LastGood({ job }: { job: JobCard }) {
  const back = async () => {
    try {
      await answer(api.POST("/api/jobs/{job}/last-good", { params: { path: { job: job.id } } }));
      client.invalidateQueries({ queryKey: ["jobs"] });
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Button size="compact-xs" variant="default" onClick={back}>
      Back to its last good state
    </Button>
  );
}

function State({ job }: { job: JobCard }) {
  if (job.stops === null || job.looks === null) return <Mark status="checking" />;
  if ((job.stops ?? 0) > 0)
    return (
      <>
        <Mark status="stop" /> <span>{`${plural(job.stops ?? 0, "stop")} ·`}</span>
      </>
    );
  if ((job.looks ?? 0) > 0)
    return (
      <>
        <Mark status="look" /> <span>{`${plural(job.looks ?? 0, "look")} ·`}</span>
      </>
    );
  return (
    <>
      <Mark status="order" /> <span>in order ·</span>
    </>
  );
}

function JobMenu({ job }: { job: JobCard }) {
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
