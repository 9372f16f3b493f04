import { Button, Checkbox } from "@mantine/core";
import { useDocumentTitle, useWindowEvent } from "@mantine/hooks";
import { useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import bench from "../bench/bench.module.css";
import { JobName } from "../bench/JobName";
import { Kept } from "../bench/Kept";
import { ChoosePhotos } from "../bench/pile/ChoosePhotos";
import { Incoming } from "../bench/pile/Incoming";
import { droppedFiles, useImport } from "../bench/pile/importing";
import { UndoRedo } from "../bench/UndoRedo";
import { BookTools } from "../book/BookTools";
import { editionIn, editionNamed, jobAddress, useAsked } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { useJobStore } from "../editing/useJob";
import type { View } from "../editing/view";
import { Remarks } from "../remarks/Remarks";
import { Answer } from "../ui/Answer";
import { actionsOf, useScreenActions } from "../ui/actions";
import { Dialog } from "../ui/Dialog";
import { KeysHelp } from "../ui/KeysHelp";
import { type Commands, isTyping, meant, obey } from "../ui/keys";
import { openMenuAt } from "../ui/menuAt";
import { Waiting } from "../ui/Waiting";
import { t, tn } from "../words";
import { sheetActions } from "./actions";
import { type Chosen, chosenBy, numbersOf } from "./choosing";
import { Grounds } from "./Grounds";
import { PLAN_KEYS } from "./keys";
import { PhotoRow } from "./PhotoRow";
import { PlanSheet } from "./PlanSheet";
import { PlanTools } from "./PlanTools";
import css from "./plan.module.css";
import { sheetEdits } from "./sheetEdits";
import { useDrops } from "./useDrops";
import { usePlaced } from "./usePlaced";

const HELP = [
  [t("On a sheet"), PLAN_KEYS.filter(({ scope }) => scope === "sheet")],
  [t("Anywhere in the plan"), PLAN_KEYS.filter(({ scope }) => scope === "plan")],
] as const;

/** The whole job at a glance: its sheets in order, what lies on them and what was found; moved, copied, swapped, taken away. */
export function Plan({ job }: { job: string }) {
  const store = useJobStore(job, useAsked("edition"));
  const view = store.viewOf("");
  return view && !store.error ? <Loaded state={view} /> : <Waiting for={store} />;
}

function Loaded({ state }: { state: View }) {
  const { edit, undo, redo } = useChange(state);
  const [, go] = useLocation();
  const [chosen, setChosen] = useState<Chosen>({ sheets: [] });
  const [asking, setAsking] = useState(false);
  const [showing, setShowing] = useState(false);
  const [dressing, setDressing] = useState(false);
  const bring = useImport(state.id);
  const [reading, setReading] = useState((state.job.remarks ?? []).length > 0);
  const placed = usePlaced(state, showing);
  const waiting = (state.job.remarks ?? []).filter((one) => !one.done);
  const grid = useRef<HTMLOListElement>(null);
  const ids = state.sheets.map((sheet) => sheet.id);
  const selected = chosen.sheets.filter((id) => ids.includes(id));
  const numbers = numbersOf(state.sheets);
  const counts = state.marks.map((mark) => mark.counts);
  const filled = counts.reduce((sum, one) => sum + (one?.[1] ?? 0), 0);
  const places = counts.reduce((sum, one) => sum + (one?.[0] ?? 0), 0);
  const uncounted = counts.filter((one) => !one).length;
  useDocumentTitle(t("Flat plan: {name}, Sutaru", { name: state.job.name }));

  const focus = (id: string | undefined) =>
    requestAnimationFrame(() =>
      grid.current?.querySelector<HTMLElement>(`[data-sheet="${CSS.escape(id ?? "")}"]`)?.focus(),
    );
  const editsOf = (sheets: string[]) =>
    sheetEdits(state, edit, sheets, { onMoved: focus, onRemoved: () => setChosen({ sheets: [] }) });
  const edits = editsOf(selected);
  const drops = useDrops(state, edits.move);
  const { hand, setHand } = drops;
  /** Sheets that photos lie on are taken away once it was asked. */
  const remove = (removal = edits) =>
    removal.mayRemove && (removal.hold ? setAsking(true) : removal.remove());
  const open = (id: string) => go(jobAddress(state.id, { sheet: id, edition: editionIn(state) }));

  /** The sheet that the focus is on. */
  const inFocus = (target: EventTarget | null) =>
    (target instanceof Element && target.closest<HTMLElement>("[data-sheet]")?.dataset.sheet) || "";
  /** The sheet that lies right below another (or above, by -1), as the grid is just now. */
  const beyond = (index: number, by: number) => {
    const boxes = [...(grid.current?.children ?? [])].map((one) => one.getBoundingClientRect());
    const down = boxes.map(({ top }) => (top - (boxes[index]?.top ?? 0)) * by);
    const row = Math.min(...down.filter((far) => far > 1));
    const aside = boxes.map(({ x }, n) =>
      down[n] === row ? Math.abs(x - (boxes[index]?.x ?? 0)) : Infinity,
    );
    return row < Infinity ? ids[aside.indexOf(Math.min(...aside))] : undefined;
  };
  const commands: Commands<(typeof PLAN_KEYS)[number]> = {
    walk: ({ key, shiftKey, target }) => {
      const index = ids.indexOf(inFocus(target));
      const by = key === "ArrowRight" || key === "ArrowDown" ? 1 : -1;
      const next = key === "ArrowUp" || key === "ArrowDown" ? beyond(index, by) : ids[index + by];
      if (!next) return;
      setChosen(chosenBy(chosen, ids, next, shiftKey ? "to" : "only"));
      focus(next);
    },
    toggle: ({ target }) => setChosen(chosenBy(chosen, ids, inFocus(target), "toggle")),
    open: ({ target }) => open(inFocus(target)),
    step: ({ key }) => edits.step(key === "ArrowLeft" ? -1 : 1),
    copy: ({ shiftKey }) => selected.length > 0 && edits.copy(shiftKey),
    remove: () => remove(),
    selectAll: () => setChosen({ sheets: ids, last: ids[0] }),
    undo: ({ shiftKey }) => (shiftKey ? redo : undo)(),
    redo,
    letGo: () => (hand ? setHand(undefined) : setChosen({ sheets: [] })),
  };
  useScreenActions(() => [
    ...sheetActions(edits, selected.length, () => remove()),
    ...actionsOf(
      PLAN_KEYS.filter(({ does }) => does === "selectAll" || does === "undo" || does === "redo"),
      ["plan"],
      commands,
    ),
    { label: t("Back to the bench"), run: () => go(jobAddress(state.id, { edition: editionIn(state) })) },
    {
      label: t("Dispatch"),
      run: () => go(jobAddress(state.id, { edition: editionIn(state) }, "dispatch")),
    },
  ]);
  useWindowEvent("keydown", (event) => {
    if (isTyping(event.target)) return;
    obey(event, meant(event, PLAN_KEYS, inFocus(event.target) ? ["sheet", "plan"] : ["plan"]), commands);
  });

  /** What else is seen beside the sheets. */
  const shows = (
    <>
      {state.job.book && (
        <Checkbox
          ml="auto"
          size="xs"
          label={t("Backgrounds and ornaments")}
          checked={dressing}
          onChange={(event) => setDressing(event.currentTarget.checked)}
        />
      )}
      <Checkbox
        ml={state.job.book ? undefined : "auto"}
        size="xs"
        label={t("Show photos")}
        checked={showing}
        onChange={(event) => {
          setShowing(event.currentTarget.checked);
          setHand(undefined);
        }}
      />
      <Button size="compact-sm" variant="default" aria-pressed={reading} onClick={() => setReading(!reading)}>
        {waiting.length ? t("Remarks: {waiting} open", { waiting: waiting.length }) : t("Remarks")}
      </Button>
      <KeysHelp tables={HELP} manual="the-flat-plan" />
    </>
  );
  return (
    <main
      className={`${bench.bench} ${css.plan}`}
      onDragOver={(event) => event.preventDefault()}
      onDrop={async (event) => {
        event.preventDefault();
        if (event.dataTransfer.types.includes("Files")) bring(await droppedFiles(event.dataTransfer));
      }}
    >
      <header className={bench.head}>
        <Link href="/" className={bench.back}>
          {t("Shelf")}
        </Link>
        <Link href={jobAddress(state.id, { edition: editionIn(state) })} className={bench.back}>
          {t("Back to the bench")}
        </Link>
        <div className={bench.title}>
          <div className={bench.named}>
            <JobName state={state} />
            <Kept job={state.id} />
          </div>
          <span className="num">
            {editionNamed(state)}
            {tn(
              ids.length,
              "{n} sheet · {filled} of {places} openings filled",
              "{n} sheets · {filled} of {places} openings filled",
              { filled, places },
            )}
            {uncounted > 0 &&
              `, ${tn(uncounted, "{n} sheet still being counted", "{n} sheets still being counted")}`}
            {` · ${tn(state.photos.length, "{n} photo in the pile", "{n} photos in the pile")}`}
          </span>
        </div>
        <Incoming state={state} />
        <UndoRedo state={state} />
        <ChoosePhotos label={t("Bring photos in")} onFiles={bring} />
        <Button
          variant="filled"
          component={Link}
          href={jobAddress(state.id, { edition: editionIn(state) }, "dispatch")}
        >
          {t("Dispatch")}
        </Button>
      </header>
      {state.job.book && (
        <BookTools state={state} selected={ids.filter((id) => selected.includes(id))}>
          {shows}
        </BookTools>
      )}
      <PlanTools count={selected.length} actions={sheetActions(edits, selected.length, () => remove())}>
        {!state.job.book && shows}
      </PlanTools>
      {dressing && (
        <Grounds
          state={state}
          selected={ids.filter((id) => selected.includes(id))}
          onPiece={(piece) => {
            for (const id of selected) drops.lay(piece, id);
          }}
        />
      )}
      {hand && (
        <p className={css.inHand} role="status">
          {state.job.book
            ? t(
                "Moving {photo}: click another photo to exchange them, or a sheet's page to place it there. Esc cancels.",
                { photo: state.photo.get(hand.photo)?.name },
              )
            : t("Moving {photo}: click another photo to exchange them. Esc cancels.", {
                photo: state.photo.get(hand.photo)?.name,
              })}
        </p>
      )}
      <div className={css.middle}>
        <ol ref={grid} className={css.grid} aria-label={t("Sheets in order")}>
          {state.sheets.map((sheet, index) => {
            const isSelected = selected.includes(sheet.id);
            return (
              <PlanSheet
                key={sheet.id}
                state={state}
                at={index}
                number={numbers[index] ?? ""}
                isSelected={isSelected}
                carried={isSelected ? ids.filter((id) => selected.includes(id)) : [sheet.id]}
                drops={drops}
                onClick={(event) => {
                  if (hand) {
                    const { left, width } = event.currentTarget.getBoundingClientRect();
                    // By the keyboard there is no place on the sheet: its first page then.
                    drops.put(hand, sheet.id, event.detail ? (event.clientX - left) / width : 0);
                    return;
                  }
                  const more = event.shiftKey ? "to" : event.ctrlKey || event.metaKey ? "toggle" : "only";
                  setChosen(chosenBy(chosen, ids, sheet.id, more));
                }}
                onOpen={() => open(sheet.id)}
                onMenu={(event) => {
                  if (!isSelected) setChosen({ sheets: [sheet.id], last: sheet.id });
                  const some = isSelected ? selected : [sheet.id];
                  const removal = editsOf(some);
                  openMenuAt(
                    event,
                    some.length > 1 ? tn(some.length, "{n} sheet", "{n} sheets") : sheet.name,
                    [
                      { label: t("Open on the bench"), keys: "Enter", run: () => open(sheet.id) },
                      ...sheetActions(removal, some.length, () => remove(removal)),
                    ],
                  );
                }}
              >
                {showing && (
                  <PhotoRow
                    state={state}
                    sheet={sheet.id}
                    placed={placed.get(sheet.id) ?? []}
                    hand={hand}
                    onTake={setHand}
                    onMeet={drops.exchange}
                  />
                )}
              </PlanSheet>
            );
          })}
          <li
            className={css.end}
            data-over={drops.over === "" || undefined}
            {...drops.place("")}
            aria-hidden="true"
          />
        </ol>
        {reading && (
          <aside className={css.remarks} aria-label={t("Remarks")}>
            <h2>{t("The customer's remarks")}</h2>
            <Remarks
              state={state}
              onGo={(id) => {
                setChosen({ sheets: [id], last: id });
                focus(id);
              }}
            />
          </aside>
        )}
      </div>
      {asking && (
        <Dialog
          onClose={() => setAsking(false)}
          title={tn(selected.length, "Delete {n} sheet?", "Delete {n} sheets?")}
          centered
        >
          <p className={css.hint}>{t("Their photos stay in the pile. Undo brings the sheets back.")}</p>
          <Answer>
            <Button variant="default" onClick={() => setAsking(false)}>
              {t("Cancel")}
            </Button>
            <Button
              data-autofocus
              onClick={() => {
                setAsking(false);
                edits.remove();
              }}
            >
              {t("Delete")}
            </Button>
          </Answer>
        </Dialog>
      )}
    </main>
  );
}
