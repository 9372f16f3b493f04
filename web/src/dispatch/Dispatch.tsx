import { Button, Checkbox, SegmentedControl, Select } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import IconDownload from "@tabler/icons-react/icons/IconDownload";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { answer, api, type Finding, type PrintWish, sheetPicture, type TaskState } from "../api/client";
import { part } from "../api/parts";
import { client, useLabs, useTasks } from "../api/queries";
import { Accepting } from "../bench/Accepting";
import { remembered } from "../bench/address";
import { useEditions } from "../bench/Editions";
import { Kept } from "../bench/Kept";
import { jobAddress, useAsked } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { flush } from "../editing/flushing";
import { jobStore, useJobStore } from "../editing/jobs";
import { sheetsOf, type View } from "../editing/view";
import { useOrders } from "../orders/useOrders";
import { bled, SIDES } from "../press/bleeds";
import { LabSheets } from "../press/LabSheets";
import { Leaving } from "../press/Leaving";
import { PrintSheets } from "../press/PrintSheets";
import { complain } from "../ui/complain";
import { pageSize, pixels, plural, sheetSize } from "../ui/format";
import { Mark } from "../ui/Mark";
import { room } from "../ui/room";
import { inWords, length, type Unit } from "../ui/units";
import { Waiting } from "../ui/Waiting";
import css from "./dispatch.module.css";
import { Exported, ordersOf } from "./Exported";

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
  const unit = useUnitOf(state);
  const [, go] = useLocation();
  const [format, setFormat] = useState<Format>();
  const [transparent, setTransparent] = useState(false);
  const [bundling, setBundling] = useState(false);
  const [printing, setPrinting] = useState(false);
  const [published, setPublished] = useState(false);
  const [every, setEvery] = useState(false);
  const editions = useEditions(state);
  // The sheets of all variants, where the job holds several; an edition has those of its own.
  const sheets = part("sheets", state.job.sheets)?.sheets ?? state.sheets;
  const pages = every
    ? editions.reduce((sum, own) => sum + sheetsOf(sheets, own.variant).length, 0)
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
  const looks = found.filter((finding) => finding.severity === "look");
  const checking = state.rows.some((row) => row.checking) || state.marks.some(({ counts }) => counts?.[4]);
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
  const contact = useMutation({
    mutationFn: async () => {
      flush();
      await jobStore(state.id).settled();
      return answer<{ id: string }>(
        api.POST("/api/jobs/{job}/contact", {
          params: { path: { job: state.id } },
          body: { photos: [], columns: 5, width_mm: 210, height_mm: 297 },
        }),
      );
    },
    onSuccess: ({ id }) => {
      client.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    },
    onError: complain,
  });
  useDocumentTitle(`Dispatch: ${state.job.name}, Sutaru`);
  return (
    <main className={css.dispatch}>
      <header className={css.head}>
        <Link href="/">Shelf</Link>
        <Link href={jobAddress(state.id, { edition })}>Back to the bench</Link>
        <div className={css.title}>
          <h1 className="heading">{state.job.name}</h1>
          <span>
            {[
              state.job.customer,
              state.job.order_number,
              state.job.editions.length > 1 && state.own.name,
              (state.own.copies ?? 1) > 1 && `${state.own.copies} copies`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </div>
        <Kept job={state.id} />
        <Button
          variant="default"
          leftSection={<IconDownload size={15} />}
          loading={bundling}
          onClick={async () => {
            // What is still on its way belongs into it.
            setBundling(true);
            flush();
            await jobStore(state.id).settled();
            setBundling(false);
            window.location.assign(`/api/jobs/${state.id}/bundle`);
          }}
        >
          Save as a bundle
        </Button>
      </header>
      <div className={css.columns}>
        <Sheets state={state} />
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
              if (sheet && sheet.id !== lab.id) edit({ op: "choose_lab", lab: sheet });
              setFormat(undefined);
            }}
          />
          <Button size="compact-sm" mt={4} variant="subtle" onClick={() => setPublished(true)}>
            From the lab…
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
            {lab.note} Target {lab.ppi_target} ppi, least {lab.ppi_least}.
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
            aria-label="Format"
            value={kind}
            onChange={(value) => setFormat(value as Format)}
            data={[
              { value: "jpeg", label: "JPEG" },
              { value: "png", label: "PNG" },
              { value: "tiff", label: "TIFF" },
              { value: "pdf", label: "PDF" },
              { value: "ora", label: "Layers" },
            ]}
          />
          {kind === "ora" && (
            <p className={css.note}>
              OpenRaster, to go on with elsewhere: each photo, frame and word on a layer of its own.
            </p>
          )}
          {kind === "png" && lab.press?.convert !== false && lab.press && (
            <p className={css.note}>A PNG has no inks: it stays RGB.</p>
          )}
          {(kind === "png" || kind === "ora") && (
            <Checkbox
              mt={8}
              size="xs"
              label="Without background, transparent"
              checked={transparent}
              onChange={(event) => setTransparent(event.currentTarget.checked)}
            />
          )}
          {state.job.editions.length > 1 && (
            <Checkbox
              mt={10}
              size="xs"
              label={`All ${state.job.editions.length} editions`}
              checked={every}
              onChange={(event) => setEvery(event.currentTarget.checked)}
            />
          )}
          <div className={css.findings}>
            {!fresh && <p role="status">Being checked…</p>}
            {fresh && stops.length + looks.length === 0 && (
              <p>
                {checking ? (
                  <>
                    <Mark status="checking" /> Being checked: an export waits until every photo was looked at.
                  </>
                ) : (
                  <>
                    <Mark status="order" /> The checks found nothing.
                  </>
                )}
              </p>
            )}
            <div className={css.list} aria-busy={!fresh}>
              {[...stops, ...looks].map((finding) => (
                <div
                  key={[finding.edition, finding.sheet, finding.layer, finding.rule, finding.sentence].join(
                    " ",
                  )}
                >
                  <div className={css.finding}>
                    <Link
                      href={jobAddress(state.id, {
                        sheet: finding.sheet,
                        edition: finding.edition ?? edition,
                        selected: finding.layer,
                        panel: "findings",
                      })}
                    >
                      <Mark status={finding.severity} />{" "}
                      <span>
                        {finding.edition &&
                          `${editions.find((own) => own.id === finding.edition)?.name ?? ""}, `}
                        {sheets.length > 1 &&
                          `${sheets.find((sheet) => sheet.id === finding.sheet)?.name ?? ""}: `}
                        {inWords(finding.sentence, unit)}
                      </span>
                    </Link>
                    {!finding.accepted && <Accepting state={state} finding={finding} all={found} />}
                  </div>
                  {finding.accepted && <Accepting state={state} finding={finding} all={found} />}
                </div>
              ))}
            </div>
          </div>
          {stops.length > 0 && (
            <p className={css.note}>
              {plural(stops.length, "stop")} in the way: mend {stops.length === 1 ? "it" : "each"}, or accept{" "}
              {stops.length === 1 ? "it" : "them"} with your name and a reason.
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
            Export {plural(pages, "page")}
          </Button>
          <Button
            mt={6}
            size="xs"
            variant="default"
            fullWidth
            disabled={!fresh || stops.length > 0}
            onClick={() => setPrinting(true)}
          >
            On print sheets…
          </Button>
          {printing && (
            <PrintSheets
              booklet={state.sheets.length >= 4}
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
            A contact sheet of the pile
          </Button>
          <h2 className={css.past}>Exports</h2>
          {tasks.data?.every((task) => task.kind !== "export") && <p className={css.note}>None yet.</p>}
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

/** The job's unit, as it was chosen on the bench, or as its sheets are measured. */
function useUnitOf(state: View): Unit {
  const { width_mm, height_mm } = state.layout;
  return remembered(state.id).unit ?? (pageSize(width_mm, height_mm).endsWith("in") ? "in" : "mm");
}

/** All sheets as they will print; only those in view are asked for. */
function Sheets({ state }: { state: View }) {
  const scroller = useRef<HTMLElement>(null);
  const { width_mm, height_mm, bleed_mm } = state.layout;
  const bleeds = bled(state.lab, width_mm, height_mm, bleed_mm ?? 0);
  const [left, top, right, bottom] = bleeds;
  const most = Math.max(...bleeds);
  const sides = SIDES.filter((_, at) => (bleeds[at] ?? 0) > 0);
  const unit = useUnitOf(state);
  const [printed, setPrinted] = useState(false);
  const list = useVirtualizer({
    count: state.sheets.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 480,
    getItemKey: (at) => state.sheets[at]?.id ?? at,
    overscan: 1,
  });
  return (
    <section className={css.sheets} aria-label="Pages as they will print" ref={scroller}>
      <Checkbox
        className={css.printed}
        size="xs"
        label="On the press's paper"
        checked={printed}
        onChange={(event) => setPrinted(event.currentTarget.checked)}
      />
      <div style={{ height: list.getTotalSize(), position: "relative" }}>
        {list.getVirtualItems().map(({ index, key, start }) => {
          const sheet = state.sheets[index];
          const here = index === state.at;
          return (
            sheet && (
              <figure
                key={key}
                ref={list.measureElement}
                data-index={index}
                style={{ position: "absolute", top: start, left: 0, right: 0 }}
              >
                <img
                  src={sheetPicture(
                    state.marks[index]?.key ?? "",
                    900,
                    false,
                    true,
                    printed ? "paper" : undefined,
                  )}
                  style={room(state.marks[index]?.ratio ?? 1, "min(820px, 100%)", "560px")}
                  alt={`${sheet.name} as it will print`}
                />
                <figcaption className="num">
                  <strong>{sheet.name}</strong>
                  {here && (
                    <>
                      {" "}
                      {sheetSize(width_mm, height_mm, state.folded)}
                      {most ? `, ${length(most, unit)} bleed` : ", no bleed"}
                      {most > 0 && sides.length < 4 && ` at the ${sides.join(", ")}`}:{" "}
                      {pixels(width_mm + left + right, state.lab.ppi_target)} ×{" "}
                      {pixels(height_mm + top + bottom, state.lab.ppi_target)} px
                    </>
                  )}
                </figcaption>
              </figure>
            )
          );
        })}
      </div>
    </section>
  );
}
