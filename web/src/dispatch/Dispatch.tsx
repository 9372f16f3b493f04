import { Button, Checkbox, SegmentedControl, Select } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type Finding, type PrintWish, type TaskState } from "../api/client";
import { part } from "../api/parts";
import { client, useLabs, useTasks } from "../api/queries";
import { useEditions } from "../bench/Editions";
import { tally } from "../bench/useFill";
import { editionIn, jobAddress, useAsked } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { useContactSheet } from "../editing/contactSheet";
import { flush } from "../editing/flushing";
import { jobStore } from "../editing/jobs";
import { useJobStore } from "../editing/useJob";
import { sheetsOf, type View } from "../editing/view";
import { LookOver } from "../orders/LookOver";
import { useOrders } from "../orders/useOrders";
import { LabSheets } from "../press/LabSheets";
import { Leaving } from "../press/Leaving";
import { PrintSheets } from "../press/PrintSheets";
import { Remarks } from "../remarks/Remarks";
import { Tour } from "../tour/Tour";
import { complain } from "../ui/complain";
import { Waiting } from "../ui/Waiting";
import { t, tn } from "../words";
import { Checks } from "./Checks";
import { DispatchHead } from "./DispatchHead";
import css from "./dispatch.module.css";
import { Exported, ordersOf } from "./Exported";
import { Pages } from "./Pages";

type Format = "jpeg" | "png" | "tiff" | "pdf" | "ora";

/** Where finished sheets are exported. */
export function Dispatch({ job }: { job: string }) {
  const edition = useAsked("edition");
  const store = useJobStore(job, edition);
  const view = store.viewOf("");
  return view && !store.error ? <Loaded state={view} edition={edition} /> : <Waiting for={store} />;
}

function Loaded({ state, edition }: { state: View; edition: string }) {
  const labs = useLabs();
  const tasks = useTasks(state.id);
  const orders = useOrders(state.id);
  const { edit } = useChange(state);
  const { lab } = state;
  const [, go] = useLocation();
  const [format, setFormat] = useState<Format>();
  const [transparent, setTransparent] = useState(false);
  const [printing, setPrinting] = useState(false);
  const [published, setPublished] = useState(false);
  const [every, setEvery] = useState(false);
  const [looking, setLooking] = useState(false);
  const openRemarks = (state.job.remarks ?? []).filter((remark) => !remark.done).length;
  const editions = useEditions(state);
  // The sheets of all variants, where the job holds several; an edition has those of its own.
  const sheets = part("sheets", state.job.sheets)?.sheets ?? state.sheets;
  const pages = every
    ? editions.reduce((sum, edition) => sum + sheetsOf(sheets, edition.variant).length, 0)
    : state.sheets.length;
  const kind = format ?? lab.format;
  const checks = useQuery({
    // Named by where the job stands, so that they are never old.
    queryKey: every
      ? ["findings", state.id, "*", ...state.job.editions, state.job.sheets, state.job.lab]
      : ["findings", state.id, state.own.id, ...state.marks.map(({ key }) => key)],
    queryFn: ({ signal }) =>
      answer<Finding[]>(
        api.GET("/api/jobs/{job}/findings", {
          signal,
          params: { path: { job: state.id }, query: { edition: every ? "*" : state.own.id } },
        }),
      ),
    placeholderData: (before) => before,
  });
  // Old findings stay in view while new ones are worked out, but nothing is decided by them.
  const fresh = Boolean(checks.data) && !checks.isPlaceholderData && jobStore(state.id).waiting === 0;
  const found = checks.data ?? [];
  const stops = found.filter((finding) => finding.severity === "stop");
  const start = useMutation({
    mutationFn: async (sheets: PrintWish | undefined) => {
      flush();
      await jobStore(state.id).settled();
      return answer<TaskState>(
        api.POST("/api/jobs/{job}/exports", {
          params: { path: { job: state.id } },
          body: {
            lab: lab.id,
            edition: every ? "*" : state.own.id,
            format: kind,
            transparent: transparent && kind === "png" && !sheets,
            sheets,
          },
        }),
      );
    },
    onSettled: () => client.invalidateQueries({ queryKey: ["tasks", state.id] }),
    onError: complain,
  });
  const makeContactSheet = useContactSheet(state.id, () => {
    flush();
    return jobStore(state.id).settled();
  });
  const contact = useMutation({ mutationFn: makeContactSheet });
  useDocumentTitle(t("Dispatch: {name}, Sutaru", { name: state.job.name }));
  return (
    <main className={css.dispatch}>
      <DispatchHead state={state} edition={edition} />
      <div className={css.columns}>
        <Pages state={state} />
        <section className={css.order} aria-label={t("Export")}>
          <Tour
            job={state.id}
            standing={{
              screen: "dispatch",
              ...tally(state),
              stops: stops.length,
              exported: !!tasks.data?.some((task) => task.kind === "export" && task.state === "done"),
            }}
          />
          <h2>{t("For the lab")}</h2>
          <Select
            label={t("Lab sheet")}
            size="xs"
            allowDeselect={false}
            value={lab.id}
            data={(labs.data ?? []).map((sheet) => ({
              value: sheet.id,
              label: `${sheet.name}, ${sheet.lab}`,
            }))}
            onChange={(value) => {
              const sheet = labs.data?.find((entry) => entry.id === value);
              if (sheet && sheet.id !== lab.id) edit({ op: "choose_lab", lab: sheet });
              setFormat(undefined);
            }}
          />
          <Button size="compact-sm" mt={4} variant="subtle" onClick={() => setPublished(true)}>
            {t("Get lab sheets…")}
          </Button>
          {published && (
            <LabSheets
              onClose={() => setPublished(false)}
              onTaken={(sheet) => {
                edit({ op: "choose_lab", lab: sheet });
                setFormat(undefined);
                setPublished(false);
              }}
            />
          )}
          <p className={`${css.note} num`}>
            {t("{note} Target {ppi_target} ppi, least {ppi_least}.", {
              note: lab.note,
              ppi_target: lab.ppi_target,
              ppi_least: lab.ppi_least,
            })}
          </p>
          <Leaving
            job={state.id}
            lab={lab}
            edit={edit}
            sheetKey={state.marks[state.at]?.key ?? ""}
            size={[state.layout.width_mm, state.layout.height_mm, state.layout.bleed_mm ?? 0]}
          />
          <SegmentedControl
            mt={10}
            size="xs"
            fullWidth
            aria-label={t("Format")}
            value={kind}
            onChange={(value) => setFormat(value as Format)}
            data={[
              { value: "jpeg", label: "JPEG" },
              { value: "png", label: "PNG" },
              { value: "tiff", label: "TIFF" },
              { value: "pdf", label: "PDF" },
              { value: "ora", label: t("Layers") },
            ]}
          />
          {kind === "ora" && (
            <p className={css.note}>
              {t("OpenRaster, to go on with elsewhere: each photo, frame and word on a layer of its own.")}
            </p>
          )}
          {kind === "png" && lab.press?.convert !== false && lab.press && (
            <p className={css.note}>{t("A PNG has no inks: it stays RGB.")}</p>
          )}
          {(kind === "png" || kind === "ora") && (
            <Checkbox
              mt={8}
              size="xs"
              label={t("Transparent background")}
              checked={transparent}
              onChange={(event) => setTransparent(event.currentTarget.checked)}
            />
          )}
          {state.job.editions.length > 1 && (
            <Checkbox
              mt={10}
              size="xs"
              label={t("All {editions} editions", { editions: state.job.editions.length })}
              checked={every}
              onChange={(event) => setEvery(event.currentTarget.checked)}
            />
          )}
          <Checks state={state} edition={edition} findings={found} isFresh={fresh} />
          {stops.length > 0 && (
            <p className={css.note}>
              {tn(
                stops.length,
                "{n} stop in the way: mend it, or accept it with your name and a reason.",
                "{n} stops in the way: mend each, or accept them with your name and a reason.",
              )}
            </p>
          )}
          <Button
            mt={10}
            size="sm"
            fullWidth
            disabled={!fresh || stops.length > 0}
            loading={start.isPending}
            onClick={() => start.mutate(undefined)}
          >
            {tn(pages, "Export {n} page", "Export {n} pages")}
          </Button>
          <Button
            mt={6}
            size="xs"
            variant="default"
            fullWidth
            disabled={!fresh || stops.length > 0}
            onClick={() => setPrinting(true)}
          >
            {t("On print sheets…")}
          </Button>
          {printing && (
            <PrintSheets
              roles={state.sheets.map(({ role }) => role ?? "page")}
              onClose={() => setPrinting(false)}
              onMake={(wish) => start.mutate(wish)}
            />
          )}
          <Button
            mt={6}
            size="xs"
            variant="subtle"
            fullWidth
            disabled={!state.photos.some((photo) => !photo.aside)}
            loading={contact.isPending}
            onClick={() => contact.mutate()}
          >
            {t("Contact sheet of the pile")}
          </Button>
          <details className={css.customer} open={openRemarks > 0}>
            <summary>
              {t("For the customer")}
              {openRemarks > 0 && `: ${tn(openRemarks, "{n} open remark", "{n} open remarks")}`}
            </summary>
            <Remarks
              state={state}
              onGo={(sheet) => go(jobAddress(state.id, { sheet, edition: editionIn(state) }))}
            />
          </details>
          <h2 className={css.past}>{t("Exports")}</h2>
          <Button size="compact-sm" variant="default" mb={8} onClick={() => setLooking(true)}>
            {t("Check a print file…")}
          </Button>
          {looking && <LookOver lab={lab.id} onClose={() => setLooking(false)} />}
          {tasks.data?.every((task) => task.kind !== "export") && (
            <p className={css.note}>{t("No exports yet.")}</p>
          )}
          {tasks.data
            ?.filter((task) => task.kind === "export")
            .map((task) => (
              <Exported
                key={task.id}
                task={task}
                state={state}
                orders={(orders.data ?? []).filter((order) => ordersOf(order.lines, task))}
              />
            ))}
        </section>
      </div>
    </main>
  );
}
