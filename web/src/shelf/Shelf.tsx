import { Button, SegmentedControl, Select } from "@mantine/core";
import IconPlus from "@tabler/icons-react/icons/IconPlus";
import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import {
  answer,
  type JobCard,
  pagePicture,
  Refused,
  type TemplateCard,
  templatePicture,
} from "../api/client";
import { complain, useJobs, useTemplates } from "../api/queries";
import { pageSize, plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import { NewJob } from "./NewJob";
import css from "./shelf.module.css";

const COUNTS = [
  { value: "any", label: "any number of openings", fits: () => true },
  { value: "1", label: "one opening", fits: (n: number) => n === 1 },
  { value: "few", label: "2 to 6 openings", fits: (n: number) => n > 1 && n <= 6 },
  { value: "many", label: "7 openings or more", fits: (n: number) => n > 6 },
];
const openings = (template: TemplateCard) => template.pages.reduce((sum, page) => sum + page.openings, 0);

/** Where templates are kept and chosen, and jobs at work are taken up again. */
export function Shelf() {
  const templates = useTemplates();
  const jobs = useJobs();
  const [product, setProduct] = useState("all");
  const [count, setCount] = useState("any");
  const [lie, setLie] = useState("any");
  const [chosen, setChosen] = useState<TemplateCard>();
  const products = useMemo(
    () => [...new Set((templates.data ?? []).map((template) => template.product))].sort(),
    [templates.data],
  );
  const shown = (templates.data ?? []).filter(
    (template) =>
      (product === "all" || template.product === product) &&
      (lie === "any" || template.orientation === lie) &&
      COUNTS.find((entry) => entry.value === count)?.fits(openings(template)),
  );
  return (
    <main className={css.shelf}>
      <header className={css.head}>
        <h1>Sutaru</h1>
        <span>Marram Studio's bench for photos and templates</span>
        <OpenBundle />
      </header>
      <section className={css.jobs} aria-label="Jobs">
        <h2>Jobs at work</h2>
        {jobs.data?.length === 0 && <p>No job yet. Choose a template below to start one.</p>}
        <div className={css.row}>
          {jobs.data?.map((job) => (
            <JobSheet key={job.id} job={job} />
          ))}
        </div>
      </section>
      <section aria-label="Shelf">
        <div className={css.filters}>
          <h2>Shelf</h2>
          <SegmentedControl
            size="xs"
            value={product}
            onChange={setProduct}
            data={["all", ...products].map((value) => ({ value, label: value }))}
          />
          <Select
            size="xs"
            aria-label="Orientation"
            value={lie}
            onChange={(value) => setLie(value ?? "any")}
            data={[
              { value: "any", label: "any orientation" },
              { value: "landscape", label: "landscape" },
              { value: "portrait", label: "portrait" },
              { value: "square", label: "square" },
            ]}
          />
          <Select
            size="xs"
            aria-label="Number of openings"
            value={count}
            onChange={(value) => setCount(value ?? "any")}
            data={COUNTS.map(({ value, label }) => ({ value, label }))}
          />
        </div>
        <div className={css.templates}>
          {shown.map((template) => (
            <TemplateSheet key={template.id} template={template} onChoose={() => setChosen(template)} />
          ))}
          {templates.data && shown.length === 0 && (
            <p>No template fits all three. Widen one of the choices.</p>
          )}
        </div>
      </section>
      {chosen && <NewJob template={chosen} onClose={() => setChosen(undefined)} />}
    </main>
  );
}

function JobSheet({ job }: { job: JobCard }) {
  return (
    <Link href={`/jobs/${job.id}`} className={css.job}>
      <span className={css.jobPicture}>
        <img src={pagePicture(job.id, job.page, job.revision, 300)} alt="" loading="lazy" />
      </span>
      <span className={css.jobText}>
        <strong>{job.name}</strong>
        <span>{job.customer || "no customer named"}</span>
        <span className="num">
          {job.filled} of {plural(job.openings, "opening")} filled
        </span>
        <span className={`${css.marks} num`}>
          {job.stops > 0 && (
            <>
              <Mark status="stop" /> {plural(job.stops, "stop")}
            </>
          )}
          {job.looks > 0 && (
            <>
              <Mark status="look" /> {plural(job.looks, "look")}
            </>
          )}
          {job.stops + job.looks === 0 && (
            <>
              <Mark status="order" /> in order
            </>
          )}
        </span>
      </span>
    </Link>
  );
}

/** One scale for all sheets of the shelf: 1 mm is this many px, so sizes compare at a glance. */
const SCALE = 0.5;

function TemplateSheet({ template, onChoose }: { template: TemplateCard; onChoose: () => void }) {
  return (
    <article className={css.template} aria-label={template.name}>
      <button
        type="button"
        className={css.pages}
        onClick={onChoose}
        aria-label={`Start a job from ${template.name}`}
      >
        {template.pages.map((page) => {
          const width = (page.width_mm + 2 * page.bleed_mm) * SCALE;
          const height = (page.height_mm + 2 * page.bleed_mm) * SCALE;
          return (
            <img
              key={page.id}
              src={templatePicture(template.id, page.id, Math.round(width * 2))}
              width={Math.round(width)}
              height={Math.round(height)}
              alt={page.name}
            />
          );
        })}
      </button>
      <div className={css.label}>
        <strong>{template.name}</strong>
        <span className="num">
          {template.product} · {pageSize(template.pages[0]?.width_mm ?? 0, template.pages[0]?.height_mm ?? 0)}{" "}
          · {plural(openings(template), "opening")}
          {template.pages.length > 1 ? ` · ${template.pages.length} pages` : ""}
        </span>
        <Button variant="default" leftSection={<IconPlus size={14} />} onClick={onChoose}>
          Start a job
        </Button>
      </div>
    </article>
  );
}

function OpenBundle() {
  const input = useRef<HTMLInputElement>(null);
  const [, go] = useLocation();
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const open = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    try {
      const sent = fetch("/api/jobs/from-bundle", { method: "POST", body: file }).then(async (response) => {
        const body = await response.json();
        return response.ok ? { data: body as { id: string } } : { error: body };
      });
      const { id } = await answer<{ id: string }>(sent);
      queries.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error instanceof Refused ? error : new Refused("The bundle could not be sent. Try again."));
    } finally {
      setBusy(false);
      if (input.current) input.current.value = "";
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".sutaru"
        hidden
        onChange={(event) => open(event.target.files?.[0])}
      />
      <Button variant="default" ml="auto" loading={busy} onClick={() => input.current?.click()}>
        Open a bundle
      </Button>
    </>
  );
}
