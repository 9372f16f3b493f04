import { Button, Progress } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type OrderState, type TaskState } from "../api/client";
import { client, useLabs } from "../api/queries";
import type { View } from "../editing/view";
import { OneOrder } from "../orders/OneOrder";
import { OrderDialog } from "../orders/OrderDialog";
import { Printing } from "../press/Printing";
import { complain } from "../ui/complain";
import { bytes, listed } from "../ui/format";
import { Mark } from "../ui/Mark";
import { when } from "../ui/when";
import { t, tn } from "../words";
import css from "./dispatch.module.css";

interface Manifest {
  lab: string;
  copies?: number;
  accepted?: {
    edition?: string;
    page: string;
    finding: string;
    severity: string;
    by: string;
    reason: string;
  }[];
  stops?: { page: string; finding: string }[];
  /** Looks that nobody accepted; a number in manifests of before. */
  looks?: { edition?: string; page: string; finding: string }[] | number;
  files: {
    file: string;
    sha256: string;
    bytes: number;
    width_px: number;
    height_px: number;
    ppi: number;
    bits?: number;
    profile: string;
    colour?: string;
    pages?: string[];
    edition?: string;
    copies?: number;
    sheets?: number;
    sheet_mm?: [number, number];
    blank_pages?: number[];
    trim_mm?: [number, number];
    bleed_mm?: number;
    on_a_side?: number;
  }[];
}

/** Profiles by their names. */
const PROFILES: Record<string, string> = { srgb: "sRGB", "adobe-compatible": t("wide-gamut RGB") };
const MARKS = { done: "order", failed: "stop", stopped: "look", running: "note", queued: "note" } as const;

const SIDES = new Set(["front", "back", "inside"]);
const trimmedTo = (mm: number) => Math.round(mm * 100) / 100;

const looksOf = (manifest: Manifest | null) => (Array.isArray(manifest?.looks) ? manifest.looks : []);

/** Whether an order's files are those of an export. */
export const ordersOf = (lines: OrderState["lines"], task: TaskState) => {
  const written = new Set((task.outcome as unknown as Manifest | null)?.files.map((file) => file.sha256));
  return lines.some((line) => line.files.some((file) => written.has(file.sha256)));
};

/** An export: how far it has got, what it wrote, and the orders of it. */
export function Exported({ task, state, orders }: { task: TaskState; state: View; orders: OrderState[] }) {
  const [ordering, setOrdering] = useState(false);
  const [printing, setPrinting] = useState(false);
  const settled = () => client.invalidateQueries({ queryKey: ["tasks", task.job] });
  const path = { params: { path: { task: task.id } } };
  const stop = useMutation({
    mutationFn: () => answer<TaskState>(api.POST("/api/tasks/{task}/stop", path)),
    onError: complain,
    onSettled: settled,
  });
  const again = useMutation({
    mutationFn: () => answer<TaskState>(api.POST("/api/tasks/{task}/again", path)),
    onError: complain,
    onSettled: settled,
  });
  const manifest = task.outcome as unknown as Manifest | null;
  const request = task.asked as { format: string; lab: string; sheets?: { duplex?: string } };
  const lab = useLabs().data?.find((sheet) => sheet.id === request.lab)?.name ?? request.lab;
  const share = task.progress ? (100 * task.progress.done) / task.progress.total : 0;
  const madeAt = when(task.made);
  const pdfs = (manifest?.files ?? [])
    .filter(({ file }) => file.endsWith(".pdf"))
    .map(({ file, sheet_mm, trim_mm, bleed_mm = 0, profile }) => {
      const [width, height] = sheet_mm ?? trim_mm?.map((side) => trimmedTo(side + 2 * bleed_mm)) ?? [];
      return { name: file, width, height, profile };
    });
  // The two sides of a card lie on one sheet, its back as upright as its front when it is turned like a leaf.
  const isCard = state.sheets.length === 2 && state.sheets.every(({ role }) => SIDES.has(role ?? ""));
  const [first] = pdfs;
  const turned = (first?.width ?? 0) > (first?.height ?? 0) ? "short" : "long";
  const passed =
    (manifest?.accepted?.length ?? 0) + (manifest?.stops?.length ?? 0) + looksOf(manifest).length;
  return (
    <article className={css.export} aria-label={t("Export of {madeAt}", { madeAt })} data-state={task.state}>
      <p className="num">
        <Mark status={passed ? "look" : MARKS[task.state]} />{" "}
        {t("{format} for {lab}, {madeAt}", {
          format: request.format.toUpperCase(),
          lab: manifest?.lab ?? lab,
          madeAt,
        })}
        {manifest && (
          <a href={`/api/exports/${task.id}/all`} className={css.all}>
            {t("All as one zip")}
          </a>
        )}
      </p>
      {(task.state === "running" || task.state === "queued") && (
        <div className={css.running}>
          <Progress value={share} flex={1} aria-label={t("Export")} />
          <span className="num">
            {task.progress ? `${Math.round(share)} %, ${task.progress.stage}` : t("waiting")}
          </span>
          <Button size="compact-xs" variant="default" loading={stop.isPending} onClick={() => stop.mutate()}>
            {t("Stop")}
          </Button>
        </div>
      )}
      {task.message && <p>{task.message}</p>}
      {(task.state === "failed" || task.state === "stopped") && (
        <Button size="compact-xs" variant="default" loading={again.isPending} onClick={() => again.mutate()}>
          {t("Export again")}
        </Button>
      )}
      {manifest && (
        <ul>
          {manifest.files.map((file) => (
            <li key={file.file} className="num">
              <a href={`/api/exports/${task.id}/files/${file.file}`}>{file.file}</a>
              <span>
                {file.sheet_mm
                  ? tn(
                      file.sheets ?? 0,
                      "{n} print sheet of {sheet_mm} mm, {on_a_side} on a side{blank}",
                      "{n} print sheets of {sheet_mm} mm, {on_a_side} on a side{blank}",
                      {
                        sheet_mm: file.sheet_mm.join(" × "),
                        on_a_side: file.on_a_side,
                        blank: file.blank_pages
                          ? `, ${tn(file.blank_pages.length, "page {pages} blank", "pages {pages} blank", { pages: listed(file.blank_pages) })}`
                          : "",
                      },
                    )
                  : [
                      `${file.width_px} × ${file.height_px} px`,
                      `${file.ppi} ppi`,
                      PROFILES[file.profile] ?? file.colour ?? file.profile,
                      file.bits === 16 && t("16 bits"),
                      file.pages && tn(file.pages.length, "{n} page", "{n} pages"),
                    ]
                      .filter(Boolean)
                      .join(", ")}
                , {bytes(file.bytes)}
              </span>
              <code title={`sha256 ${file.sha256}`}>{file.sha256.slice(0, 16)}</code>
            </li>
          ))}
          {looksOf(manifest).map((entry) => (
            <li key={`${entry.edition} ${entry.page} ${entry.finding}`}>
              <span>
                <Mark status="look" size={10} />{" "}
                {`${entry.edition ? `${entry.edition}, ` : ""}${entry.page}: ${entry.finding}`}
              </span>
            </li>
          ))}
          {manifest.accepted?.map((entry) => (
            <li key={entry.page + entry.finding}>
              <span>
                {t("{finding} Accepted by {by}: {reason}", {
                  finding: entry.finding,
                  by: entry.by,
                  reason: entry.reason,
                })}
              </span>
            </li>
          ))}
          <li>
            <a href={`/api/exports/${task.id}/files/manifest.json`}>manifest.json</a>
          </li>
        </ul>
      )}
      {manifest && !manifest.files.some((file) => file.sheet_mm) && (
        <Button mt={6} size="compact-xs" variant="default" onClick={() => setOrdering(true)}>
          {t("Order from the lab…")}
        </Button>
      )}
      {pdfs.length > 0 && (
        <Button ml={6} mt={6} size="compact-xs" variant="default" onClick={() => setPrinting(true)}>
          {t("Print here…")}
        </Button>
      )}
      {printing && (
        <Printing
          task={task.id}
          files={pdfs}
          sides={request.sheets ? request.sheets.duplex : isCard ? turned : ""}
          onClose={() => setPrinting(false)}
        />
      )}
      {ordering && manifest && (
        <OrderDialog
          state={state}
          task={task.id}
          files={manifest.files.map((file) => ({
            file: file.file,
            copies: file.copies ?? manifest.copies ?? 1,
            edition: file.edition,
          }))}
          onClose={() => setOrdering(false)}
        />
      )}
      {orders.map((order) => (
        <OneOrder key={order.id} order={order} />
      ))}
    </article>
  );
}
