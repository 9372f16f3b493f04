import { ActionIcon, Button, Popover, SegmentedControl, TextInput, Tooltip } from "@mantine/core";
import IconArrowBackUp from "@tabler/icons-react/icons/IconArrowBackUp";
import IconArrowForwardUp from "@tabler/icons-react/icons/IconArrowForwardUp";
import IconKeyboard from "@tabler/icons-react/icons/IconKeyboard";
import IconZoomIn from "@tabler/icons-react/icons/IconZoomIn";
import IconZoomOut from "@tabler/icons-react/icons/IconZoomOut";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { Link } from "wouter";
import { type JobState, pagePicture, type Text, thumb } from "../api/client";
import { usePending } from "../api/pending";
import { useChange, useJob } from "../api/queries";
import { pageSize } from "../ui/format";
import { Mark } from "../ui/Mark";
import css from "./bench.module.css";
import { FillMenu, PreviewBar } from "./FillMenu";
import { Findings } from "./Findings";
import { held } from "./fitting";
import { droppedFiles, PHOTO_TYPE, useImport } from "./importing";
import { KEYS } from "./keys";
import { Ledger } from "./Ledger";
import { OpeningPanel } from "./OpeningPanel";
import { PhotoRoom } from "./PhotoRoom";
import { Pile } from "./Pile";
import { SeveralPanel } from "./SeveralPanel";
import { Sheet } from "./Sheet";
import { fresh, useBench } from "./store";
import { useKeys } from "./useKeys";
import { WalkButton, WalkStrip } from "./Walk";
import { WordsPanel } from "./WordsPanel";

/** The main screen: photos are fitted to openings here. */
export function Bench({ job }: { job: string }) {
  const { data: state, error } = useJob(job);
  useLayoutEffect(() => {
    useBench.getState().set(fresh);
  }, []);
  if (error)
    return (
      <main className={css.missing}>
        <p>{error.message}</p>
        <Link href="/">To the shelf</Link>
      </main>
    );
  return state ? <Loaded state={state} /> : null;
}

function Loaded({ state }: { state: JobState }) {
  const bench = useBench();
  const {
    page: at,
    selected,
    also,
    hand,
    notes,
    guides,
    keeps,
    before,
    walk,
    preview,
    view,
    panel,
    set,
  } = bench;
  const page = state.job.pages[at] ?? state.job.pages[0];
  const texts = state.job.pages.flatMap(
    (entry) => entry.layers.filter((layer) => layer.kind === "text") as Text[],
  );
  const text = texts.find((entry) => entry.id === selected);
  const bring = useImport(state.id);
  useKeys(state);
  if (!page) return null;
  const unit = pageSize(page.width_mm, page.height_mm).endsWith("in") ? "in" : "mm";
  const stops = state.findings.filter((finding) => finding.severity === "stop").length;
  const looks = state.findings.filter((finding) => finding.severity === "look").length;
  return (
    // A file dropped beside everything still comes into the pile.
    <main
      className={css.bench}
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        if (!event.dataTransfer.getData(PHOTO_TYPE)) bring(await droppedFiles(event.dataTransfer));
      }}
    >
      <header className={css.head}>
        <Link href="/" className={css.back}>
          Shelf
        </Link>
        <div className={css.title}>
          <div className={css.named}>
            <JobName state={state} />
            <Kept />
          </div>
          <span>
            {[state.job.customer, state.job.lab.name].filter(Boolean).join(" · ")} ·{" "}
            <span className="num">{pageSize(page.width_mm, page.height_mm)}</span>
          </span>
        </div>
        <UndoRedo state={state} />
        <FillMenu state={state} />
        <WalkButton state={state} />
        <div className={css.toggles}>
          <Toggle label="Numbers and notes" keyName="N" on={notes} onChange={(on) => set({ notes: on })} />
          <Toggle label="Cut lines" keyName="G" on={guides} onChange={(on) => set({ guides: on })} />
          <Toggle label="Keep areas" keyName="K" on={keeps} onChange={(on) => set({ keeps: on })} />
        </div>
        <div className={css.view}>
          <Tooltip label="Smaller view (Ctrl −)">
            <ActionIcon
              variant="default"
              aria-label="Smaller view"
              disabled={view <= 1}
              onClick={() => set({ view: view / 1.5 })}
            >
              <IconZoomOut size={16} />
            </ActionIcon>
          </Tooltip>
          <Tooltip label="Larger view (Ctrl +)">
            <ActionIcon
              variant="default"
              aria-label="Larger view"
              disabled={view > 5}
              onClick={() => set({ view: view * 1.5 })}
            >
              <IconZoomIn size={16} />
            </ActionIcon>
          </Tooltip>
          <Popover position="bottom-end" withArrow shadow="md">
            <Popover.Target>
              <Tooltip label="Keys">
                <ActionIcon variant="default" aria-label="Keys">
                  <IconKeyboard size={16} />
                </ActionIcon>
              </Tooltip>
            </Popover.Target>
            <Popover.Dropdown>
              <table className={css.keys}>
                <tbody>
                  {KEYS.map(([key, what]) => (
                    <tr key={key}>
                      <th>{key}</th>
                      <td>{what}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Popover.Dropdown>
          </Popover>
        </div>
        <Button component={Link} href={`/jobs/${state.id}/dispatch`} variant="filled">
          To dispatch
        </Button>
      </header>
      <div className={css.middle}>
        <nav className={css.pages} aria-label="Pages">
          {state.job.pages.map((entry, number) => (
            <button
              key={entry.id}
              type="button"
              aria-current={number === at ? "page" : undefined}
              aria-label={`Page ${number + 1}, ${entry.name}`}
              onClick={() => set({ page: number, selected: undefined })}
            >
              <img src={pagePicture(state.id, entry.id, state.revision, 150)} alt="" />
              <span>{entry.name}</span>
            </button>
          ))}
        </nav>
        <div className={css.sheet}>
          <Sheet state={state} page={page} unit={unit} />
          {preview && <PreviewBar state={state} />}
          {before && (
            <p className={css.badge} role="status">
              Before mending. B shows after.
            </p>
          )}
        </div>
        <aside className={css.side}>
          <SegmentedControl
            size="xs"
            fullWidth
            radius={0}
            value={panel}
            onChange={(value) => set({ panel: value as "ledger" | "findings" })}
            data={[
              { value: "ledger", label: "Ledger" },
              {
                value: "findings",
                label: (
                  <span className={`${css.counts} num`}>
                    Findings
                    {stops > 0 && (
                      <>
                        <Mark status="stop" /> {stops}
                      </>
                    )}
                    {looks > 0 && (
                      <>
                        <Mark status="look" /> {looks}
                      </>
                    )}
                    {stops + looks === 0 && <Mark status="order" />}
                  </span>
                ),
              },
            ]}
          />
          {panel === "ledger" ? <Ledger state={state} /> : <Findings state={state} />}
          {text ? (
            <WordsPanel key={text.id} state={state} text={text} />
          ) : also.length ? (
            <SeveralPanel state={state} />
          ) : selected ? (
            <OpeningPanel key={selected} state={state} opening={selected} />
          ) : null}
        </aside>
      </div>
      {walk ? <WalkStrip state={state} /> : <Pile state={state} />}
      <PhotoRoom state={state} />
      {hand && <InHand state={state} />}
    </main>
  );
}

/** Whether all that was done is stored. */
function Kept() {
  const draft = useBench((bench) => bench.draft);
  const kept = !usePending() && !(draft && draft.revision === undefined);
  useEffect(() => {
    if (kept) return;
    // Leaving now would lose it: the browser asks first.
    const ask = (event: Event) => event.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [kept]);
  return (
    <small className={css.kept} data-kept={kept} title="Every change is stored as it is made">
      {kept ? "kept" : "keeping…"}
    </small>
  );
}

/** The job's name; a click changes it, and the customer's. */
function JobName({ state }: { state: JobState }) {
  const { edit } = useChange(state.id);
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [customer, setCustomer] = useState("");
  const show = () => {
    setName(state.job.name);
    setCustomer(state.job.customer ?? "");
    setOpen(true);
  };
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-start" withArrow shadow="md" trapFocus>
      <Popover.Target>
        <button type="button" className={css.name} title="Change the name and the customer" onClick={show}>
          {state.job.name}
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!name.trim()) return;
            edit.mutate({ edit: { op: "rename", name: name.trim(), customer: customer.trim() } });
            setOpen(false);
          }}
        >
          <TextInput
            size="xs"
            label="Job name"
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <TextInput
            size="xs"
            label="Customer"
            maxLength={120}
            value={customer}
            onChange={(event) => setCustomer(event.currentTarget.value)}
          />
          <Button type="submit" mt={8} disabled={!name.trim()}>
            Keep
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}

function UndoRedo({ state }: { state: JobState }) {
  const { undo, redo } = useChange(state.id);
  return (
    <div className={css.undo}>
      <Tooltip label={state.undo ? `Undo: ${state.undo} (Ctrl Z)` : "Nothing to undo"}>
        <ActionIcon variant="default" aria-label="Undo" disabled={!state.undo} onClick={() => undo.mutate()}>
          <IconArrowBackUp size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={state.redo ? `Redo: ${state.redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <ActionIcon variant="default" aria-label="Redo" disabled={!state.redo} onClick={() => redo.mutate()}>
          <IconArrowForwardUp size={16} />
        </ActionIcon>
      </Tooltip>
    </div>
  );
}

function Toggle({
  label,
  keyName,
  on,
  onChange,
}: {
  label: string;
  keyName: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <label title={`Key ${keyName}`}>
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} /> {label}
    </label>
  );
}

/** What the hand holds follows the pointer. */
function InHand({ state }: { state: JobState }) {
  const hand = useBench((bench) => bench.hand);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const move = (event: PointerEvent) => {
      if (box.current) {
        box.current.style.transform = `translate(${event.clientX + 14}px, ${event.clientY + 14}px)`;
        box.current.style.visibility = "visible";
      }
    };
    addEventListener("pointermove", move);
    return () => removeEventListener("pointermove", move);
  }, []);
  const photo =
    hand?.kind === "photos"
      ? state.job.photos?.find((entry) => entry.id === hand.photos[0])
      : hand && held(state, hand.opening)?.photo;
  if (!photo) return null;
  return (
    <div className={css.hand} ref={box} role="status">
      <img src={thumb(photo)} alt={`In hand: ${photo.name}`} />
      <span className="num">
        {hand?.kind === "photos" && hand.photos.length > 1
          ? `${hand.photos.length} in hand. X skips, Esc lets go.`
          : "Click an opening. Esc lets go."}
      </span>
    </div>
  );
}
