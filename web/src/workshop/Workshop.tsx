import { Button, Tooltip } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { type MouseEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { sheetPicture } from "../api/client";
import { usePending } from "../api/pending";
import bench from "../bench/bench.module.css";
import { JobName } from "../bench/JobName";
import { Kept } from "../bench/Kept";
import { UndoRedo } from "../bench/UndoRedo";
import { editionIn, editionNamed, jobAddress, useAsked } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { heldView } from "../editing/store";
import { useJobStore } from "../editing/useJob";
import type { View } from "../editing/view";
import { apply, inverse, type Matrix } from "../geometry/placing";
import { OnSheet } from "../lettering/OnSheet";
import { useWords } from "../lettering/useWords";
import { Stage } from "../stage/Stage";
import { ViewButtons } from "../stage/ViewButtons";
import { KeepDialog } from "../templates/KeepDialog";
import { type Action, goTo, useScreenActions } from "../ui/actions";
import { Folded } from "../ui/Folded";
import { pageSize, sheetSize } from "../ui/format";
import { KeysHelp } from "../ui/KeysHelp";
import { openMenuAt } from "../ui/menuAt";
import { room } from "../ui/room";
import { Side } from "../ui/side/Side";
import { useIsNarrow } from "../ui/small";
import { UnitContext } from "../ui/units";
import { usePicked } from "../ui/usePicked";
import { ViewMenu } from "../ui/ViewMenu";
import { Waiting } from "../ui/Waiting";
import { t } from "../words";
import { Drawing } from "./Drawing";
import { TABLE_KEYS, TOOLS, WITH_THE_MOUSE } from "./keys";
import { boxAbout, found } from "./layers";
import { OrnamentShelf } from "./OrnamentShelf";
import { SelectionPanel } from "./SelectionPanel";
import { SheetPanel } from "./SheetPanel";
import { StackList } from "./StackList";
import { bare, useTable } from "./table";
import { useHands } from "./useHands";
import { useLayerActions } from "./useLayerActions";
import { useTableKeys } from "./useTableKeys";
import css from "./workshop.module.css";

const HELP = [
  [t("Tools"), TABLE_KEYS.filter(({ scope }) => scope === "tool")],
  [t("On the sheet"), [...TABLE_KEYS.filter(({ scope }) => scope === "sheet"), ...WITH_THE_MOUSE]],
] as const;

/** Where a template is made or altered, or a job's own sheets. */
export function Workshop({ job }: { job: string }) {
  const sheetId = useAsked("sheet");
  const { sheet, set } = usePicked(useTable, "sheet", "set");
  useEffect(() => set({ ...bare, sheet: sheetId }), [set, sheetId]);
  const store = useJobStore(job, useAsked("edition"));
  const view = store.viewOf(sheet);
  return view && !store.error ? <Loaded state={view} /> : <Waiting for={store} />;
}

function Loaded({ state }: { state: View }) {
  const {
    view,
    unit: chosen,
    tool,
    selected,
    writing,
    guides,
    snap,
    ornaments,
    sheet: asked,
    set,
  } = usePicked(
    useTable,
    "view",
    "unit",
    "tool",
    "selected",
    "writing",
    "guides",
    "snap",
    "ornaments",
    "sheet",
    "set",
  );
  const isPulling = useTable((table) => Boolean(table.pull));
  const { edit } = useChange(state);
  const [keeping, setKeeping] = useState(false);
  const svg = useRef<SVGSVGElement>(null);
  const [map, setMap] = useState<Matrix>([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  const hands = useHands(state, svg, map);
  const { wordsOf, keep } = useWords(state);
  const byKeys = useTableKeys(state, hands);
  const { selectionActions, layerMenu } = useLayerActions(state, byKeys);
  const { layout, sheet } = state;
  const order = !state.job.making;
  const unit = chosen ?? (pageSize(layout.width_mm, layout.height_mm).endsWith("in") ? "in" : "mm");
  useDocumentTitle(t("Workshop: {name}, Sutaru", { name: state.job.name }));
  // What is gone is not selected any more; what is on its way may be there later, however long the server takes.
  const stored = !usePending();
  useEffect(() => {
    const there = selected.filter((id) => found(layout.layers, id));
    if (there.length < selected.length && !isPulling && stored) {
      const timer = setTimeout(() => set({ selected: there }), 600);
      return () => clearTimeout(timer);
    }
    return undefined;
  }, [layout, selected, isPulling, stored, set]);
  const [guide, setGuide] = useState<{ axis: "x" | "y"; at: number }>();
  const guideAt = (event: PointerEvent, axis: "x" | "y") => {
    const box = svg.current?.getBoundingClientRect();
    const at = apply(inverse(map), [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)]);
    return { axis, at: Math.round(at[axis === "x" ? 0 : 1] * 10) / 10 };
  };
  const keepGuide = () => {
    const far = guide?.axis === "x" ? layout.width_mm : layout.height_mm;
    if (guide && guide.at > -5 && guide.at < far + 5)
      edit({
        op: "set_sheet",
        fields: { guides: [...(layout.guides ?? []), { axis: guide.axis, at_mm: guide.at }] },
      });
    setGuide(undefined);
  };
  const [, go] = useLocation();
  const sheetActions = (): Action[] => [
    ...byKeys(["sheet"]).filter(({ label }) => [t("Select all"), t("Undo"), t("Redo")].includes(label)),
    {
      label: order ? t("Save as template…") : t("Save to shelf…"),
      starts: true,
      run: () => setKeeping(true),
    },
    ...(order
      ? [
          goTo(
            t("Back to the bench"),
            jobAddress(state.id, { sheet: sheet.id, edition: editionIn(state) }),
            go,
          ),
        ]
      : []),
  ];
  useScreenActions(() => [...selectionActions(), ...byKeys(["tool"]), ...sheetActions()]);
  const menu = (event: MouseEvent) => {
    const on =
      event.target instanceof Element && event.target.closest<HTMLElement>("[data-layer], [data-row]");
    const id = on && (on.dataset.layer ?? on.dataset.row);
    if (id) layerMenu(event, id);
    else if (event.target instanceof Element && event.target.closest("[data-stage]"))
      openMenuAt(event, sheet.name, sheetActions());
  };
  const box = boxAbout(layout.layers, state.frames, selected);
  const typed = writing ? found(layout.layers, writing) : undefined;
  const details = selected.length ? (
    <SelectionPanel state={state} hands={hands} />
  ) : (
    <SheetPanel state={state} />
  );
  return (
    <UnitContext value={unit}>
      <main className={bench.bench}>
        <header className={bench.head}>
          <Link href="/" className={bench.back}>
            {t("Shelf")}
          </Link>
          {order && (
            <Link
              href={jobAddress(state.id, { sheet: sheet.id, edition: editionIn(state) })}
              className={bench.back}
            >
              {t("Back to the bench")}
            </Link>
          )}
          <div className={bench.title}>
            <div className={bench.named}>
              <JobName state={state} />
              <Kept job={state.id} />
            </div>
            <span>
              {editionNamed(state)}
              {order
                ? t("This order's own sheets")
                : state.job.making?.own
                  ? t("A template of the studio's")
                  : t("A new template")}{" "}
              · <span className="num">{sheetSize(layout.width_mm, layout.height_mm, state.folded)}</span>
            </span>
          </div>
          <UndoRedo state={state} />
          <Folded when={useIsNarrow(760)} label={t("More")}>
            <ViewMenu
              shown={[
                { label: t("Cut lines"), on: guides, set: (guides) => set({ guides }) },
                { label: t("Snap"), on: snap, set: (snap) => set({ snap }) },
              ]}
            />
            <Button
              variant="default"
              disabled={!state.rows.some((row) => !row.photo) || !state.photos.length}
              onClick={() => edit({ op: "fill", how: "best", only_empty: true })}
            >
              {order ? t("Fill") : t("Show samples")}
            </Button>
            <Button variant="filled" onClick={() => setKeeping(true)}>
              {order ? t("Save as template") : t("Save to shelf")}
            </Button>
          </Folded>
        </header>
        {/* biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is what is pressed */}
        <div className={bench.middle} onContextMenu={menu}>
          <nav className={css.tools} aria-label={t("Tools")}>
            {TOOLS.map((entry) => (
              <Tooltip key={entry.tool} label={`${entry.hint} (${entry.key.toUpperCase()})`} position="right">
                <button
                  type="button"
                  aria-pressed={tool === entry.tool}
                  onClick={() => {
                    hands.cancel();
                    set({ tool: entry.tool });
                  }}
                >
                  <Sign tool={entry.tool} />
                  <span>{entry.label}</span>
                </button>
              </Tooltip>
            ))}
            <Tooltip label={t("Ornaments (B)")} position="right">
              <button type="button" aria-pressed={!!ornaments} onClick={() => set({ ornaments: !ornaments })}>
                <Sign tool="ornaments" />
                <span>{t("Ornaments")}</span>
              </button>
            </Tooltip>
            {state.sheets.length > 1 && (
              <fieldset className={css.sheets} aria-label={t("Sheets")}>
                {state.sheets.map((one, n) => (
                  <button
                    key={one.id}
                    type="button"
                    aria-current={one.id === sheet.id ? "page" : undefined}
                    data-coming={(one.id === asked && one.id !== sheet.id) || undefined}
                    onClick={() => set({ sheet: one.id, selected: [] })}
                  >
                    <img
                      src={sheetPicture(state.marks[n]?.key ?? "", 120)}
                      alt=""
                      style={room(state.marks[n]?.ratio ?? 1, "56px", "56px")}
                    />
                    {one.name}
                  </button>
                ))}
              </fieldset>
            )}
          </nav>
          <div className={bench.sheet}>
            <Stage
              key={sheet.id}
              sheet={layout}
              picture={(width) => sheetPicture(state.key, width, true)}
              alt={t("{name} in the workshop", { name: sheet.name })}
              unit={unit}
              onUnit={(unit) => set({ unit })}
              view={view}
              onView={(view) => set({ view: heldView(view) })}
              focus={
                box && [
                  [box.left, box.top],
                  [box.right, box.bottom],
                ]
              }
              onGround={() => tool === "select" && set({ selected: [] })}
              onRuler={{
                down: (event, axis) => setGuide(guideAt(event, axis)),
                move: (event, axis) => guide && setGuide(guideAt(event, axis)),
                up: keepGuide,
              }}
            >
              {(seen) => (
                <>
                  <Seeing map={seen.screenFromPage} onMap={setMap} />
                  <Drawing state={state} seen={seen} hands={hands} svg={svg} />
                  {typed?.kind === "text" && (
                    <OnSheet
                      key={typed.id}
                      state={state}
                      seen={seen}
                      box={typed}
                      words={wordsOf(typed)}
                      onKeep={(said, gesture) => keep(typed, said, gesture)}
                      onEnd={() => set({ writing: undefined })}
                    />
                  )}
                  {guide && (
                    <div
                      className={css.pulledGuide}
                      data-axis={guide.axis}
                      style={
                        guide.axis === "x"
                          ? { left: apply(map, [guide.at, 0])[0] }
                          : { top: apply(map, [0, guide.at])[1] }
                      }
                    />
                  )}
                </>
              )}
            </Stage>
            {ornaments && (
              <OrnamentShelf state={state} add={hands.add} onClose={() => set({ ornaments: false })} />
            )}
            <div className={bench.view}>
              <ViewButtons view={view} onView={(view) => set({ view })} />
              <KeysHelp tables={HELP} manual="the-workshop" />
            </div>
          </div>
          <Side
            name="workshop"
            parts={[
              { name: "layers", label: t("Layers"), content: <StackList state={state} /> },
              { name: "details", label: selected.length ? t("Details") : t("Sheet"), content: details },
            ]}
            upper={<StackList state={state} />}
            lower={details}
          />
        </div>
        {keeping && <KeepDialog state={state} onClose={() => setKeeping(false)} />}
      </main>
    </UnitContext>
  );
}

/** Tells how the sheet lies on the screen. */
function Seeing({ map, onMap }: { map: Matrix; onMap: (map: Matrix) => void }) {
  const said = map.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a map is new with each drawing, what it says seldom
  useEffect(() => onMap(map), [said, onMap]);
  return null;
}

/** What a tool makes, drawn small. */
function Sign({ tool }: { tool: string }) {
  const shapes: Record<string, string> = {
    select: "M6 4l11 8-5 1-2 5z",
    rectangle: "M4 6h16v12h-16z",
    rounded: "M8 6h8a4 4 0 014 4v4a4 4 0 01-4 4h-8a4 4 0 01-4-4v-4a4 4 0 014-4z",
    ellipse: "M4 12a8 6 0 1016 0a8 6 0 10-16 0z",
    polygon: "M12 4l8 7-4 9h-9l-3-8z",
    freehand: "M5 9c3-7 9 2 13-1s2 9-4 10-13-2-9-9z",
    fill: "M4 6h16v12h-16z",
    words: "M6 7v-2h12v2M12 5v14M9 19h6",
    dates: "M4 6h16v14h-16zM4 10h16M9 10v10M15 10v10M4 15h16M8 3v4M16 3v4",
    note: "M5 5h14v10l-4 4h-10zM15 19v-4h4",
    area: "M4 5h16v14h-16zM8 9h6v6h-6zM14 12l6 6",
    ornaments: "M12 3l7 8-7 6-7-6zM12 3v14M5 11h14M12 17c-2 2 2 2 0 4",
  };
  return (
    <svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true" data-tool={tool}>
      <path d={shapes[tool]} />
    </svg>
  );
}
