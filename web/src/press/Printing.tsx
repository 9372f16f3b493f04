import { Button, Group, Select } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type PrinterState, type PrintJob, type PrintRequest } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { Mark } from "../ui/Mark";
import { NumberField } from "../ui/NumberField";
import { t, tn } from "../words";
import css from "./press.module.css";

const MARKS = { done: "order", stopped: "stop", printing: "note" } as const;

const ALL = "*";
const PRESSES: Record<string, string> = { fogra39: "FOGRA39", tr006: "CGATS TR 006", srgb: "sRGB" };
const named = (profile: string) => PRESSES[profile] ?? profile;

/** PDFs of an export on the studio's printer, as one job: from which tray, on both sides or one, never fitted silently. */
export function Printing({
  task,
  files,
  sides = "",
  onClose,
}: {
  task: string;
  /** How backs lie, where there are any. */
  sides?: string;
  files: { name: string; width?: number; height?: number; profile?: string }[];
  onClose: () => void;
}) {
  const printer = useQuery({
    queryKey: ["printer"],
    queryFn: ({ signal }) => answer<PrinterState>(api.GET("/api/printer", { signal })),
    refetchInterval: 4000,
  });
  const trays = printer.data?.trays ?? [];
  const [file, setFile] = useState(files.length > 1 ? ALL : (files[0]?.name ?? ""));
  const meant = files.filter(({ name }) => file === ALL || name === file);
  const [size] = meant;
  const fits = trays.find((one) => near(one.width_mm, size?.width) && near(one.height_mm, size?.height));
  const [chosen, setChosen] = useState("");
  const tray = trays.find(({ name }) => name === chosen) ?? fits ?? trays[0];
  const [copies, setCopies] = useState(1);
  const [duplex, setDuplex] = useState<PrintRequest["duplex"]>(sides as PrintRequest["duplex"]);
  const [fit, setFit] = useState<PrintRequest["fit"]>("exact");
  const [job, setJob] = useState<PrintJob>();
  const callbacks = { onSuccess: setJob, onError: complain, onSettled: again };
  const print = useMutation({
    mutationFn: (body: PrintRequest) =>
      answer<PrintJob>(api.POST("/api/exports/{export}/print", { params: { path: { export: task } }, body })),
    ...callbacks,
  });
  const on = useMutation({
    mutationFn: (id: string) =>
      answer<PrintJob>(api.POST("/api/printer/jobs/{job}/on", { params: { path: { job: id } } })),
    ...callbacks,
  });
  return (
    <Dialog onClose={onClose} title={t("Print on the studio's printer")} size="lg" centered>
      <div className={css.parts}>
        {printer.data && !printer.data.reachable && <p role="alert">{printer.data.message}</p>}
        {files.length > 1 && (
          <Select
            size="xs"
            label={t("File")}
            allowDeselect={false}
            value={file}
            data={[
              { value: ALL, label: t("All {files} files, as one job", { files: files.length }) },
              ...files.map(({ name }) => ({ value: name, label: name })),
            ]}
            onChange={(value) => value && setFile(value)}
          />
        )}
        <Select
          size="xs"
          label={t("Tray")}
          allowDeselect={false}
          value={tray?.name ?? ""}
          data={trays.map((one) => ({
            value: one.name,
            label: tn(
              one.sheets,
              "{name}: {media}, {width_mm} × {height_mm} mm{profile}, {n} sheet in it",
              "{name}: {media}, {width_mm} × {height_mm} mm{profile}, {n} sheets in it",
              {
                name: one.name,
                media: one.media,
                width_mm: one.width_mm,
                height_mm: one.height_mm,
                profile: one.profile ? `, ${named(one.profile)}` : "",
              },
            ),
          }))}
          onChange={(value) => value && setChosen(value)}
        />
        <Select
          size="xs"
          label={t("Sides")}
          allowDeselect={false}
          disabled={!tray?.duplex}
          value={tray?.duplex ? duplex : ""}
          data={[
            { value: "", label: t("one") },
            { value: "long", label: t("double-sided, flip on long edge") },
            { value: "short", label: t("double-sided, flip on short edge") },
          ]}
          onChange={(value) => setDuplex((value ?? "") as PrintRequest["duplex"])}
        />
        <Group grow align="end">
          <NumberField label={t("Copies")} min={1} max={999} value={copies} onKeep={setCopies} />
          <Select
            size="xs"
            label={t("Pages of another size")}
            allowDeselect={false}
            value={fit}
            data={[
              { value: "exact", label: t("do not print") },
              { value: "smaller", label: t("shrink to fit") },
              { value: "middle", label: t("centre at full size") },
            ]}
            onChange={(value) => value && setFit(value as PrintRequest["fit"])}
          />
        </Group>
        {tray && (
          <p className="num">
            {t("{margin} mm at the paper's edges stay white.", { margin: printer.data?.margin_mm })}
            {size?.width && !near(tray.width_mm, size.width) && fit === "exact"
              ? ` ${t("The file is {width} × {height} mm: another size than this paper.", {
                  width: size.width,
                  height: size.height,
                })}`
              : ""}
            {tray.profile && size?.profile && tray.profile !== size.profile
              ? ` ${t("The file is made for {file}; this paper is printed with {tray}.", {
                  file: named(size.profile),
                  tray: named(tray.profile),
                })}`
              : ""}
          </p>
        )}
        <Button
          disabled={!tray || !meant.length}
          loading={print.isPending}
          onClick={() =>
            tray &&
            print.mutate({
              files: meant.map(({ name }) => name),
              tray: tray.name,
              copies,
              fit,
              duplex: tray.duplex ? duplex : "",
            })
          }
        >
          {t("Print")}
        </Button>
        {job && (
          <section aria-label={t("At the printer")} className={css.printed}>
            <p className="num">
              <Mark status={MARKS[job.state]} />{" "}
              {job.state === "done" ? t("Printed") : job.state === "stopped" ? t("Stopped") : t("Printing")}
              {`: ${tn(
                job.sheets * job.copies,
                "{printed} of {n} sheet on {media}.",
                "{printed} of {n} sheets on {media}.",
                { printed: job.printed, media: job.media },
              )}`}
            </p>
            {job.why && <p>{job.why}</p>}
            {job.notes.map((note) => (
              <p key={note}>{note}</p>
            ))}
            {job.state === "stopped" && (
              <Button
                size="compact-sm"
                variant="default"
                loading={on.isPending}
                onClick={() => on.mutate(job.id)}
              >
                {t("Resume")}
              </Button>
            )}
            <div className={css.sides}>
              {job.files.map((name) => (
                <figure key={name}>
                  <img src={`/api/printer/jobs/${job.id}/sides/${name}`} alt={name.replace(".png", "")} />
                  <figcaption>{name.replace(".png", "").replaceAll("-", " ")}</figcaption>
                </figure>
              ))}
            </div>
          </section>
        )}
      </div>
    </Dialog>
  );
}

const near = (a: number, b: number | undefined) => b !== undefined && Math.abs(a - b) < 0.6;
const again = () => client.invalidateQueries({ queryKey: ["printer"] });
