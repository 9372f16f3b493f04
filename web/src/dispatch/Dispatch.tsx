import { Button, Checkbox, Progress, SegmentedControl, Select } from "@mantine/core";
import IconDownload from "@tabler/icons-react/icons/IconDownload";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "wouter";
import { answer, api, type ExportState, type JobState, pagePicture } from "../api/client";
import { complain, useChange, useExports, useJob, useLabs } from "../api/queries";
import { useBench } from "../bench/store";
import { bytes, pageSize, pixels, plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import css from "./dispatch.module.css";

type Format = "jpeg" | "png" | "tiff" | "pdf";

/** Where finished pages are exported. */
export function Dispatch({ job }: { job: string }) {
  const { data: state, error } = useJob(job);
  if (error) return <p>{error.message}</p>;
  return state ? <Loaded state={state} /> : null;
}

function Loaded({ state }: { state: JobState }) {
  const labs = useLabs();
  const exports = useExports(state.id);
  const queries = useQueryClient();
  const { edit } = useChange(state.id);
  const lab = state.job.lab;
  const [format, setFormat] = useState<Format>();
  const [transparent, setTransparent] = useState(false);
  const [anyway, setAnyway] = useState(false);
  const kind = format ?? lab.format ?? "jpeg";
  const stops = state.findings.filter((finding) => finding.severity === "stop");
  const looks = state.findings.filter((finding) => finding.severity === "look");
  const start = useMutation({
    mutationFn: () =>
      answer<ExportState>(
        api.POST("/api/jobs/{job}/exports", {
          params: { path: { job: state.id } },
          body: { lab: lab.id, format: kind, transparent: transparent && kind === "png" },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: ["exports", state.id] }),
    onError: complain,
  });
  const goTo = (page: string, layer: string) =>
    setTimeout(() => {
      const at = state.job.pages.findIndex((entry) => entry.id === page);
      useBench.getState().set({ page: Math.max(0, at), selected: layer || undefined, panel: "findings" });
    });
  return (
    <main className={css.dispatch}>
      <header className={css.head}>
        <Link href="/">Shelf</Link>
        <Link href={`/jobs/${state.id}`}>Back to the bench</Link>
        <div className={css.title}>
          <strong>{state.job.name}</strong>
          <span>{state.job.customer}</span>
        </div>
        <Button
          component="a"
          href={`/api/jobs/${state.id}/bundle`}
          variant="default"
          leftSection={<IconDownload size={15} />}
        >
          Save as a bundle
        </Button>
      </header>
      <div className={css.columns}>
        <section className={css.sheets} aria-label="Pages as they will print">
          {state.job.pages.map((page) => {
            const bleed = page.bleed_mm ?? 3;
            const size = [page.width_mm + 2 * bleed, page.height_mm + 2 * bleed] as const;
            return (
              <figure key={page.id}>
                <img
                  src={pagePicture(state.id, page.id, state.revision, 900)}
                  alt={`${page.name} as it will print`}
                />
                <figcaption className="num">
                  <strong>{page.name}</strong> {pageSize(page.width_mm, page.height_mm)}
                  {bleed ? `, ${bleed} mm bleed` : ", no bleed"}: {pixels(size[0], lab.ppi_target)} ×{" "}
                  {pixels(size[1], lab.ppi_target)} px
                </figcaption>
              </figure>
            );
          })}
        </section>
        <section className={css.order} aria-label="Export">
          <h2>For the lab</h2>
          <Select
            label="Lab sheet"
            size="xs"
            allowDeselect={false}
            value={lab.id}
            data={(labs.data ?? []).map((sheet) => ({
              value: sheet.id,
              label: `${sheet.name}, ${sheet.lab}`,
            }))}
            onChange={(value) => {
              const sheet = labs.data?.find((entry) => entry.id === value);
              if (sheet) edit.mutate({ edit: { op: "choose_lab", lab: sheet } });
              setFormat(undefined);
            }}
          />
          <p className={`${css.note} num`}>
            {lab.note} Target {lab.ppi_target} ppi, least {lab.ppi_least}.
          </p>
          <SegmentedControl
            size="xs"
            fullWidth
            aria-label="Format"
            value={kind}
            onChange={(value) => setFormat(value as Format)}
            data={[
              { value: "jpeg", label: "JPEG" },
              { value: "png", label: "PNG" },
              { value: "tiff", label: "TIFF" },
              { value: "pdf", label: "PDF" },
            ]}
          />
          {kind === "png" && (
            <Checkbox
              mt={8}
              size="xs"
              label="Without background, transparent"
              checked={transparent}
              onChange={(event) => setTransparent(event.currentTarget.checked)}
            />
          )}
          <div className={css.findings}>
            {stops.length + looks.length === 0 && (
              <p>
                <Mark status="order" /> The checks found nothing.
              </p>
            )}
            {[...stops, ...looks].slice(0, 8).map((finding) => (
              <Link
                key={finding.layer + finding.rule + finding.sentence}
                href={`/jobs/${state.id}`}
                onClick={() => goTo(finding.page, finding.layer ?? "")}
              >
                <Mark status={finding.severity} /> <span>{finding.sentence}</span>
              </Link>
            ))}
            {stops.length + looks.length > 8 && (
              <p>and {stops.length + looks.length - 8} more on the bench.</p>
            )}
          </div>
          {stops.length > 0 && (
            <Checkbox
              size="xs"
              label={`Export all the same, with ${plural(stops.length, "stop")}`}
              checked={anyway}
              onChange={(event) => setAnyway(event.currentTarget.checked)}
            />
          )}
          <Button
            mt={10}
            size="sm"
            fullWidth
            disabled={stops.length > 0 && !anyway}
            loading={start.isPending}
            onClick={() => start.mutate()}
          >
            Export {plural(state.job.pages.length, "page")}
          </Button>
          <h2 className={css.past}>Exports</h2>
          {exports.data?.length === 0 && <p className={css.note}>None yet.</p>}
          {exports.data?.map((entry) => (
            <Exported key={entry.id} entry={entry} />
          ))}
        </section>
      </div>
    </main>
  );
}

interface Manifest {
  lab: string;
  files: {
    file: string;
    sha256: string;
    bytes: number;
    width_px: number;
    height_px: number;
    ppi: number;
    profile: string;
  }[];
}

function Exported({ entry }: { entry: ExportState }) {
  const stop = useMutation({
    mutationFn: () =>
      answer<ExportState>(api.POST("/api/exports/{export}/stop", { params: { path: { export: entry.id } } })),
    onError: complain,
  });
  const manifest = entry.manifest as unknown as Manifest | null;
  const share = entry.progress ? (100 * entry.progress.done) / entry.progress.total : 0;
  const when = new Date(entry.made).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
  return (
    <article className={css.export} aria-label={`Export of ${when}`} data-state={entry.state}>
      <p className="num">
        <Mark
          status={
            { done: "order", failed: "stop", stopped: "look", running: "note", queued: "note" }[
              entry.state
            ] as "order"
          }
        />{" "}
        {entry.format.toUpperCase()} for {manifest?.lab ?? entry.lab}, {when}
        {manifest && (
          <a href={`/api/exports/${entry.id}/all`} className={css.all}>
            All as one zip
          </a>
        )}
      </p>
      {(entry.state === "running" || entry.state === "queued") && (
        <div className={css.running}>
          <Progress value={share} flex={1} aria-label="Export" />
          <span className="num">
            {entry.progress ? `${Math.round(share)} %, ${entry.progress.stage}` : "waiting"}
          </span>
          <Button size="compact-xs" variant="default" loading={stop.isPending} onClick={() => stop.mutate()}>
            Stop
          </Button>
        </div>
      )}
      {entry.message && <p>{entry.message}</p>}
      {manifest && (
        <ul>
          {manifest.files.map((file) => (
            <li key={file.file} className="num">
              <a href={`/api/exports/${entry.id}/files/${file.file}`}>{file.file}</a>
              <span>
                {file.width_px} × {file.height_px} px, {file.ppi} ppi, {file.profile}, {bytes(file.bytes)}
              </span>
              <code title={`sha256 ${file.sha256}`}>{file.sha256.slice(0, 16)}</code>
            </li>
          ))}
          <li>
            <a href={`/api/exports/${entry.id}/files/manifest.json`}>manifest.json</a>
          </li>
        </ul>
      )}
    </article>
  );
}
