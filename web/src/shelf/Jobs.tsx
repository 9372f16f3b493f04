import { Button, SegmentedControl, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import IconSearch from "@tabler/icons-react/icons/IconSearch";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link } from "wouter";
import { answer, api, coverPicture, type JobCard } from "../api/client";
import { type Asked, client, useJobs } from "../api/queries";
import { useStartTour } from "../tour/tour";
import { complain } from "../ui/complain";

import { Mark } from "../ui/Mark";
import { openMenuAt } from "../ui/menuAt";
import { NativeChoice } from "../ui/NativeChoice";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { moment, when } from "../ui/when";
import { t, tn } from "../words";
import { KeepFrom, NewJobFrom } from "./dialogs";
import { useJobActions } from "./jobActions";
import { MenuPlaceholder } from "./MenuPlaceholder";
import { MoreMenu } from "./menus";
import css from "./shelf.module.css";

const ROW = 74;

/** All jobs: found by name, customer, order number or photo; those at work, archived, or deleted. */
export function Jobs() {
  const [typed, setTyped] = useState("");
  const [words] = useDebouncedValue(typed, 180);
  const [which, setWhich] = useState<Asked["which"]>("work");
  const [sort, setSort] = useState<Asked["sort"]>("changed");
  const jobs = useJobs({ words, which, sort });
  const jobsFound = jobs.data?.pages.flatMap((page) => page.jobs) ?? [];
  const count = jobs.data?.pages.at(-1)?.count ?? 0;
  const scroller = useRef<HTMLDivElement>(null);
  const startTour = useStartTour();
  const list = useVirtualizer({
    count: jobsFound.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    getItemKey: (index) => jobsFound[index]?.id ?? index,
    overscan: 6,
  });
  const shown = list.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = jobs;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && last >= jobsFound.length - 12) fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage, last, jobsFound.length]);
  return (
    <section className={css.jobs} aria-label={t("Jobs")}>
      <div className={css.find}>
        <h2>{t("Jobs")}</h2>
        <TextInput
          size="xs"
          aria-label={t("Find a job")}
          placeholder={t("Name, customer, order number, photo")}
          leftSection={<IconSearch size={14} />}
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <NativeChoice
          label={t("Sorted by")}
          value={sort}
          onChange={(value) => setSort(value as Asked["sort"])}
          data={[
            { value: "changed", label: t("last changed") },
            { value: "created", label: t("newest") },
            { value: "name", label: t("by name") },
            { value: "customer", label: t("by customer") },
          ]}
        />
      </div>
      <div className={css.find}>
        <SegmentedControl
          size="xs"
          aria-label={t("Which jobs")}
          value={which}
          onChange={(value) => setWhich(value as Asked["which"])}
          data={[
            { value: "work", label: t("Active") },
            { value: "workshop", label: t("In the workshop") },
            { value: "archived", label: t("Archived") },
            { value: "deleted", label: t("Deleted") },
          ]}
        />
        <span className="num" role="status">
          {jobs.data
            ? which === "workshop"
              ? tn(count, "{n} template", "{n} templates")
              : tn(count, "{n} job", "{n} jobs")
            : ""}
        </span>
      </div>
      <div className={css.list} ref={scroller}>
        {jobs.data && count === 0 && (
          <p className={css.none}>
            {words
              ? t("No job matches all these words. Use fewer, or look under Archived.")
              : {
                  work: t(
                    "No job yet. Choose a template to start one, or see how it goes with sample photos.",
                  ),
                  workshop: t("No template is in the workshop. Make one on the shelf beside."),
                  archived: t("Nothing is archived."),
                  deleted: t("None is deleted."),
                }[which]}
          </p>
        )}
        {jobs.data && count === 0 && !words && which === "work" && (
          <Button variant="default" ml={8} onClick={startTour}>
            {t("Take the tour")}
          </Button>
        )}
        {jobs.error && !jobs.data && <p className={css.none}>{(jobs.error as Error).message}</p>}
        <div style={{ height: list.getTotalSize(), position: "relative" }}>
          {shown.map(({ index, key, start }) => {
            const job = jobsFound[index];
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
  const [copying, setCopying] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const actions = useJobActions(
    job,
    () => setCopying(true),
    () => setKeeping(true),
  );
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
              ? t("a template in the workshop")
              : [job.customer || t("no customer"), job.order_number].filter(Boolean).join(" · ")}
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
              {tn(job.openings, "{filled} of {n} opening", "{filled} of {n} openings", {
                filled: job.filled,
              })}
              {job.sheets > 1 && `, ${tn(job.sheets, "{n} sheet", "{n} sheets")}`}
            </span>
          </span>
        )}
      </span>
      <time
        hidden={!!job.unreadable}
        dateTime={job.changed}
        title={t("Created {created}, changed {changed}", {
          created: moment(job.created),
          changed: moment(job.changed),
        })}
        className="num"
      >
        {when(job.changed)}
      </time>
    </>
  );
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is what is pressed
    <div className={css.jobRow} onContextMenu={(event) => openMenuAt(event, job.name, actions)}>
      {job.deleted || job.unreadable ? (
        <span className={css.job}>{inside}</span>
      ) : (
        <Link href={job.making ? `/jobs/${job.id}/workshop` : `/jobs/${job.id}`} className={css.job}>
          {inside}
        </Link>
      )}
      {job.unreadable && <LastGood job={job} />}
      <Suspense fallback={<MenuPlaceholder />}>
        <MoreMenu plain name={job.name} actions={actions} />
      </Suspense>
      <Suspense>
        {copying && <NewJobFrom job={job} onClose={() => setCopying(false)} />}
        {keeping && <KeepFrom job={job.id} onClose={() => setKeeping(false)} />}
      </Suspense>
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
      {t("Restore last good state")}
    </Button>
  );
}

function State({ job }: { job: JobCard }) {
  if (job.stops === null || job.looks === null) return <Mark status="checking" />;
  if ((job.stops ?? 0) > 0)
    return (
      <>
        <Mark status="stop" /> <span>{`${tn(job.stops ?? 0, "{n} stop", "{n} stops")} ·`}</span>
      </>
    );
  if ((job.looks ?? 0) > 0)
    return (
      <>
        <Mark status="look" /> <span>{`${tn(job.looks ?? 0, "{n} look", "{n} looks")} ·`}</span>
      </>
    );
  return (
    <>
      <Mark status="order" /> <span>{`${t("ready")} ·`}</span>
    </>
  );
}
