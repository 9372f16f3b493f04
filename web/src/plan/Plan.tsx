import { Button, Checkbox, Tooltip } from "@mantine/core";
import { useDocumentTitle, useWindowEvent } from "@mantine/hooks";
import { type DragEvent, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { sheetPicture } from "../api/client";
import { part, want } from "../api/parts";
import bench from "../bench/bench.module.css";
import { JobName } from "../bench/JobName";
import { Kept } from "../bench/Kept";
import { UndoRedo } from "../bench/UndoRedo";
import { BookTools } from "../book/BookTools";
import { editionIn, editionNamed, jobAddress, useAsked } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { useJobStore } from "../editing/jobs";
import { CARRIED } from "../editing/sheets";
import type { View } from "../editing/view";
import type { Point } from "../geometry/placing";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { Folded } from "../ui/Folded";
import { plural } from "../ui/format";
import { KeysHelp } from "../ui/KeysHelp";
import { type Commands, isTyping, meant, obey } from "../ui/keys";
import { Mark } from "../ui/Mark";
import { useIsSmall } from "../ui/small";
import { underWay } from "../ui/underWay";
import { Waiting } from "../ui/Waiting";
import { dropped, PIECE } from "../workshop/OrnamentShelf";
import { type Chosen, chosenBy, numbersOf } from "./choosing";
import { GROUND, Grounds } from "./Grounds";
import { PLAN_KEYS } from "./keys";
import { CARRIED_PHOTO, type Carried, PhotoRow } from "./PhotoRow";
import css from "./plan.module.css";
import { Remarks } from "./Remarks";
import { usePlaced } from "./usePlaced";

const HELP = [
  ["On a sheet", PLAN_KEYS.filter(({ scope }) => scope === "sheet")],
  ["Anywhere in the plan", PLAN_KEYS.filter(({ scope }) => scope === "plan")],
] as const;

/** The whole job at a glance: its sheets in order, what lies on them and what was found; moved, copied, swapped, taken away. */
export function Plan({ job }: { job: string }) {
  const store = useJobStore(job, useAsked("edition"));
  const view = store.viewOf("");
  return view && !store.error ? <Loaded state={view} /> : <Waiting for={store} />;
}

/** What was found on a sheet, for its print. */
const describeFound = (stops: number, looks: number) =>
  [stops && plural(stops, "stop"), looks && plural(looks, "look")].filter(Boolean).join(", ");

function Loaded({ state }: { state: View }) {
  const { edit, undo, redo } = useChange(state);
  const [, go] = useLocation();
  const [chosen, setChosen] = useState<Chosen>({ sheets: [] });
  const [over, setOver] = useState<string>();
  const [asking, setAsking] = useState(false);
  const [showing, setShowing] = useState(false);
  const [dressing, setDressing] = useState(false);
  const [reading, setReading] = useState((state.job.remarks ?? []).length > 0);
  const [hand, setHand] = useState<Carried>();
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
  useDocumentTitle(`Flat plan: ${state.job.name}, Sutaru`);

  const focus = (id: string | undefined) =>
    requestAnimationFrame(() =>
      grid.current?.querySelector<HTMLElement>(`[data-sheet="${CSS.escape(id ?? "")}"]`)?.focus(),
    );
  const move = (sheets: string[], before: string) => {
    if (!sheets.length || sheets.includes(before)) return;
    edit({ op: "move_sheets", sheets, before }, { onStored: () => focus(sheets[0]) });
  };
  /** One place on or back, all that are selected together. */
  const step = (by: number) => {
    const at = selected.map((id) => ids.indexOf(id));
    if (!at.length) return;
    const [first, last] = [Math.min(...at), Math.max(...at)];
    if (by < 0 ? first === 0 : last === ids.length - 1) return;
    move(selected, (by < 0 ? ids[first - 1] : ids[last + 2]) ?? "");
  };
  const copy = (with_photos: boolean) => {
    const gesture = `copy-${crypto.randomUUID()}`;
    for (const which of selected)
      edit(
        { op: "copy_sheet", which, fresh: `sheet-${crypto.randomUUID().slice(0, 8)}`, with_photos },
        { gesture },
      );
  };
  const swap = () => {
    const [first, second] = selected;
    if (first && second && selected.length === 2) edit({ op: "swap_sheets", first, second });
  };
  const holds = selected.some((id) => {
    const count = counts[ids.indexOf(id)];
    return count ? count[1] > 0 : id in state.own.fillings;
  });
  const remove = () => {
    setAsking(false);
    const gesture = `remove-${crypto.randomUUID()}`;
    for (const gone of selected) edit({ op: "remove_sheet", gone }, { gesture });
    setChosen({ sheets: [] });
  };
  const mayRemove = selected.length > 0 && selected.length < ids.length;
  const open = (id: string) => go(jobAddress(state.id, { sheet: id, edition: editionIn(state) }));

  /** The sheet that the focus is on. */
  const inFocus = (target: EventTarget | null) =>
    (target instanceof Element && target.closest<HTMLElement>("[data-sheet]")?.dataset.sheet) || "";
  /** The sheet that lies right below another (or above, by -1), as the grid is just now. */
  const beyond = (at: number, by: number) => {
    const boxes = [...(grid.current?.children ?? [])].map((one) => one.getBoundingClientRect());
    const down = boxes.map(({ top }) => (top - (boxes[at]?.top ?? 0)) * by);
    const row = Math.min(...down.filter((far) => far > 1));
    const aside = boxes.map(({ x }, n) => (down[n] === row ? Math.abs(x - (boxes[at]?.x ?? 0)) : Infinity));
    return row < Infinity ? ids[aside.indexOf(Math.min(...aside))] : undefined;
  };
  const commands: Commands<(typeof PLAN_KEYS)[number]> = {
    walk: ({ key, shiftKey, target }) => {
      const at = ids.indexOf(inFocus(target));
      const by = key === "ArrowRight" || key === "ArrowDown" ? 1 : -1;
      const next = key === "ArrowUp" || key === "ArrowDown" ? beyond(at, by) : ids[at + by];
      if (!next) return;
      setChosen(chosenBy(chosen, ids, next, shiftKey ? "to" : "only"));
      focus(next);
    },
    toggle: ({ target }) => setChosen(chosenBy(chosen, ids, inFocus(target), "toggle")),
    open: ({ target }) => open(inFocus(target)),
    step: ({ key }) => step(key === "ArrowLeft" ? -1 : 1),
    copy: ({ shiftKey }) => selected.length > 0 && copy(shiftKey),
    remove: () => mayRemove && (holds ? setAsking(true) : remove()),
    selectAll: () => setChosen({ sheets: ids, last: ids[0] }),
    undo: ({ shiftKey }) => (shiftKey ? redo : undo)(),
    redo,
    letGo: () => (hand ? setHand(undefined) : setChosen({ sheets: [] })),
  };
  useWindowEvent("keydown", (event) => {
    if (isTyping(event.target)) return;
    obey(event, meant(event, PLAN_KEYS, inFocus(event.target) ? ["sheet", "plan"] : ["plan"]), commands);
  });

  const letGo = (event: DragEvent, before: string) => {
    event.preventDefault();
    setOver(undefined);
    const carried = event.dataTransfer.getData(CARRIED);
    if (carried) move(carried.split(" "), before);
    const ground = event.dataTransfer.getData(GROUND);
    if (ground && before) edit({ op: "lay_ground", ground: JSON.parse(ground), sheets: [before] });
    const piece = event.dataTransfer.getData(PIECE);
    const box = event.currentTarget.querySelector("img")?.getBoundingClientRect();
    if (piece && before && box)
      lay(piece, before, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]);
    const photo = event.dataTransfer.getData(CARRIED_PHOTO);
    if (photo && before) {
      const box = event.currentTarget.getBoundingClientRect();
      put(JSON.parse(photo) as Carried, before, (event.clientX - box.left) / box.width);
    }
  };
  /** A photo goes onto another page, which is laid out anew with it. ``where``: how far across its sheet. */
  const put = (carried: Carried, onto: string, where: number) => {
    setHand(undefined);
    if (
      !state.job.book ||
      (carried.sheet === onto && state.sheets.find((one) => one.id === onto)?.role !== "spread")
    )
      return;
    const page = where > 0.5 ? 1 : 0;
    edit({ op: "move_photo", photo: carried.photo, whence: carried.sheet, onto, page });
  };
  /** An ornament is laid on a sheet: where it is let go, in shares of its picture, or in its middle. */
  const lay = async (piece: string, id: string, where?: Point) => {
    const sheet = state.sheets.find((one) => one.id === id);
    if (!sheet) return;
    await underWay(async () => {
      await want("layouts", sheet.layout);
      const layout = part("layouts", sheet.layout);
      if (!layout) return;
      const bleed = layout.bleed_mm ?? 3;
      const at = (share: number, side: number) => share * (side + 2 * bleed) - bleed;
      const point: Point | undefined = where && [
        at(where[0], layout.width_mm),
        at(where[1], layout.height_mm),
      ];
      const layer = await dropped({ ...state, layout }, piece, point);
      edit({ op: "add_layers", sheet: id, layers: [layer] });
    });
  };
  const meet = (carried: Carried, other: Carried) => {
    setHand(undefined);
    if (carried.sheet === other.sheet && carried.opening === other.opening) return;
    const first = { sheet: carried.sheet, opening: carried.opening };
    edit({ op: "swap", first, second: { sheet: other.sheet, opening: other.opening } });
  };
  const lets = (event: DragEvent, at: string) => {
    const dress = at !== "" && [GROUND, PIECE].some((type) => event.dataTransfer.types.includes(type));
    const photo = state.job.book && at !== "" && event.dataTransfer.types.includes(CARRIED_PHOTO);
    if (!photo && !dress && !event.dataTransfer.types.includes(CARRIED)) return;
    event.preventDefault();
    setOver(at);
  };
  /** What else is seen beside the sheets. */
  const shows = (
    <>
      {state.job.book && (
        <Checkbox
          ml="auto"
          size="xs"
          label="Grounds and ornaments"
          checked={dressing}
          onChange={(event) => setDressing(event.currentTarget.checked)}
        />
      )}
      <Checkbox
        ml={state.job.book ? undefined : "auto"}
        size="xs"
        label="Photos under their sheets"
        checked={showing}
        onChange={(event) => {
          setShowing(event.currentTarget.checked);
          setHand(undefined);
        }}
      />
      <Button size="compact-sm" variant="default" aria-pressed={reading} onClick={() => setReading(!reading)}>
        {waiting.length ? `Remarks: ${waiting.length} open` : "Remarks"}
      </Button>
      <KeysHelp tables={HELP} />
    </>
  );
  return (
    <main className={`${bench.bench} ${css.plan}`}>
      <header className={bench.head}>
        <Link href="/" className={bench.back}>
          Shelf
        </Link>
        <Link href={jobAddress(state.id, { edition: editionIn(state) })} className={bench.back}>
          Back to the bench
        </Link>
        <div className={bench.title}>
          <div className={bench.named}>
            <JobName state={state} />
            <Kept job={state.id} />
          </div>
          <span className="num">
            {editionNamed(state)}
            {plural(ids.length, "sheet")} · {filled} of {places} openings filled
            {uncounted > 0 && `, ${plural(uncounted, "sheet")} still being counted`} ·{" "}
            {plural(state.photos.length, "photo")} in the pile
          </span>
        </div>
        <UndoRedo state={state} />
        <Button
          variant="filled"
          component={Link}
          href={jobAddress(state.id, { edition: editionIn(state) }, "dispatch")}
        >
          To dispatch
        </Button>
      </header>
      {state.job.book && (
        <BookTools state={state} selected={ids.filter((id) => selected.includes(id))}>
          {shows}
        </BookTools>
      )}
      <div className={css.tools} role="toolbar" aria-label="Sheets selected">
        <span className="num">
          {selected.length ? `${plural(selected.length, "sheet")} selected` : "None selected"}
        </span>
        <Folded when={useIsSmall()} label="Sheets" size="compact-sm">
          <Tooltip label="Alt ←">
            <Button size="compact-sm" variant="default" disabled={!selected.length} onClick={() => step(-1)}>
              One place back
            </Button>
          </Tooltip>
          <Tooltip label="Alt →">
            <Button size="compact-sm" variant="default" disabled={!selected.length} onClick={() => step(1)}>
              One place on
            </Button>
          </Tooltip>
          <Button size="compact-sm" variant="default" disabled={selected.length !== 2} onClick={swap}>
            Swap the two
          </Button>
          <Tooltip label="Ctrl D">
            <Button
              size="compact-sm"
              variant="default"
              disabled={!selected.length}
              onClick={() => copy(false)}
            >
              Add again, empty
            </Button>
          </Tooltip>
          <Tooltip label="Ctrl Shift D">
            <Button
              size="compact-sm"
              variant="default"
              disabled={!selected.length}
              onClick={() => copy(true)}
            >
              Add again with photos
            </Button>
          </Tooltip>
          <Tooltip label="Delete">
            <Button
              size="compact-sm"
              variant="default"
              disabled={!mayRemove}
              onClick={() => (holds ? setAsking(true) : remove())}
            >
              Take away
            </Button>
          </Tooltip>
        </Folded>
        {!state.job.book && shows}
      </div>
      {dressing && (
        <Grounds
          state={state}
          selected={ids.filter((id) => selected.includes(id))}
          onPiece={(piece) => {
            for (const id of selected) lay(piece, id);
          }}
        />
      )}
      {hand && (
        <p className={css.inHand} role="status">
          {state.photo.get(hand.photo)?.name} in hand: click another photo to exchange them
          {state.job.book ? ", or a sheet's page to lay it there" : ""}. Esc lets go.
        </p>
      )}
      <div className={css.middle}>
        <ol ref={grid} className={css.grid} aria-label="Sheets in order">
          {state.sheets.map((sheet, at) => {
            const [openings = 0, full = 0, stops = 0, looks = 0, checking = 0] = counts[at] ?? [];
            const mine = selected.includes(sheet.id);
            const found = stops ? "stop" : looks ? "look" : checking ? "checking" : "order";
            return (
              <li key={sheet.id} data-over={over === sheet.id || undefined}>
                <button
                  type="button"
                  data-sheet={sheet.id}
                  data-name={sheet.name}
                  aria-pressed={mine}
                  draggable
                  onDragStart={(event) => {
                    const carried = mine ? ids.filter((id) => selected.includes(id)) : [sheet.id];
                    event.dataTransfer.setData(CARRIED, carried.join(" "));
                    event.dataTransfer.effectAllowed = "move";
                  }}
                  onDragOver={(event) => lets(event, sheet.id)}
                  onDragLeave={() => setOver(undefined)}
                  onDrop={(event) => letGo(event, sheet.id)}
                  onClick={(event) => {
                    if (hand) {
                      const box = event.currentTarget.getBoundingClientRect();
                      // By the keyboard there is no place on the sheet: its first page then.
                      put(hand, sheet.id, event.detail ? (event.clientX - box.left) / box.width : 0);
                      return;
                    }
                    setChosen(
                      chosenBy(
                        chosen,
                        ids,
                        sheet.id,
                        event.shiftKey ? "to" : event.ctrlKey || event.metaKey ? "toggle" : "only",
                      ),
                    );
                  }}
                  onDoubleClick={() => open(sheet.id)}
                >
                  <span className={css.picture}>
                    <img
                      src={sheetPicture(state.marks[at]?.key ?? "", 300)}
                      alt=""
                      style={{ aspectRatio: state.marks[at]?.ratio }}
                      draggable={false}
                    />
                    {(state.job.remarks ?? []).map(
                      (one, n) =>
                        one.sheet === sheet.id &&
                        !one.done && (
                          <span
                            key={one.id}
                            className={css.remark}
                            style={{ left: `${100 * (one.x ?? 0.5)}%`, top: `${100 * (one.y ?? 0.5)}%` }}
                            title={one.text}
                          >
                            {n + 1}
                          </span>
                        ),
                    )}
                  </span>
                  <span className={css.name}>{sheet.name} </span>
                  <span className={`${css.said} num`}>
                    <span>{numbers[at] === sheet.name.toLowerCase() ? "" : numbers[at]} </span>
                    <span data-missing={full < openings || undefined}>
                      {!counts[at] ? "being counted " : openings ? `${full} of ${openings} ` : "no openings "}
                    </span>
                    <span>
                      <span className={css.printed}>{describeFound(stops, looks)} </span>
                      {counts[at] && <Mark status={found} size={10} />}
                    </span>
                  </span>
                </button>
                {showing && (
                  <PhotoRow
                    state={state}
                    sheet={sheet.id}
                    placed={placed.get(sheet.id) ?? []}
                    hand={hand}
                    onTake={setHand}
                    onMeet={meet}
                  />
                )}
              </li>
            );
          })}
          <li
            className={css.end}
            data-over={over === "" || undefined}
            onDragOver={(event) => lets(event, "")}
            onDragLeave={() => setOver(undefined)}
            onDrop={(event) => letGo(event, "")}
            aria-hidden="true"
          />
        </ol>
        {reading && (
          <Remarks
            state={state}
            onGo={(id) => {
              setChosen({ sheets: [id], last: id });
              focus(id);
            }}
          />
        )}
      </div>
      {asking && (
        <Dialog
          onClose={() => setAsking(false)}
          title={`Take ${plural(selected.length, "sheet")} away?`}
          centered
        >
          <p className={css.hint}>Photos lie there; they stay in the pile. Undo brings all of it back.</p>
          <Answer>
            <Button variant="default" onClick={() => setAsking(false)}>
              Keep
            </Button>
            <Button data-autofocus onClick={remove}>
              Take away
            </Button>
          </Answer>
        </Dialog>
      )}
    </main>
  );
}
