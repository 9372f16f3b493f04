import { Button, SegmentedControl } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useEffect, useState } from "react";
import { Link } from "wouter";
import { type Figures, type Panel, sheetPicture, type Text } from "../api/client";
import { Layouts, LayoutsButton } from "../book/Layouts";
import { dropOnSheet } from "../book/layouts";
import { Panels } from "../card/Panels";
import { editionIn, jobAddress } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { addText } from "../editing/newText";
import { PHOTO_TYPE } from "../editing/sheets";
import { heldView, useBench } from "../editing/store";
import { useJobStore } from "../editing/useJob";
import { leaves, type View } from "../editing/view";
import type { Point } from "../geometry/placing";
import { CalendarDialog } from "../lettering/CalendarDialog";
import { PointedAt, ProofStrip } from "../press/ProofStrip";
import { DraftEnds, DraftPhoto } from "../stage/DraftPhoto";
import { Stage } from "../stage/Stage";
import { ViewButtons } from "../stage/ViewButtons";
import { KeepDialog } from "../templates/KeepDialog";
import { Tour } from "../tour/Tour";
import { useScreenActions } from "../ui/actions";
import { Folded } from "../ui/Folded";
import { pageSize, sheetSize } from "../ui/format";
import { KeysHelp, type KeyTable } from "../ui/KeysHelp";
import { openMenuAt } from "../ui/menuAt";
import { Side } from "../ui/side/Side";
import { useIsNarrow, useIsSmall } from "../ui/small";
import { UnitContext } from "../ui/units";
import { usePicked } from "../ui/usePicked";
import { ViewMenu } from "../ui/ViewMenu";
import { Waiting } from "../ui/Waiting";
import { t } from "../words";
import { useAddress } from "./address";
import css from "./bench.module.css";
import { Counts, countFindings } from "./Counts";
import { Editions } from "./Editions";
import { FillMenu, PreviewBar } from "./FillMenu";
import { Findings } from "./Findings";
import { InHand } from "./InHand";
import { JobName } from "./JobName";
import { Kept } from "./Kept";
import { KEYS, SCOPES, WITH_THE_MOUSE } from "./keys";
import { Ledger } from "./Ledger";
import { Overlay } from "./Overlay";
import { OpeningPanel } from "./opening/OpeningPanel";
import { SeveralPanel } from "./opening/SeveralPanel";
import { PhotoRoom } from "./photoroom/PhotoRoom";
import { droppedFiles, useImport } from "./pile/importing";
import { Pile } from "./pile/Pile";
import { Running } from "./Running";
import { SheetStrip } from "./SheetStrip";
import { UndoRedo } from "./UndoRedo";
import { useBenchActions } from "./useBenchActions";
import { tally } from "./useFill";
import { setFit, useKeys } from "./useKeys";
import { WordsPanel } from "./WordsPanel";
import { WalkButton, WalkStrip } from "./walk/Walk";
import { walkOn } from "./walk/walking";

const HELP = SCOPES.map(
  ([scope, where]): KeyTable => [
    where,
    [...KEYS.filter((entry) => entry.scope === scope), ...(scope === "bench" ? WITH_THE_MOUSE : [])],
  ],
);

/** The main screen: photos are fitted to openings here. */
export function Bench({ job }: { job: string }) {
  useAddress(job);
  const edition = useBench((bench) => bench.edition);
  const sheet = useBench((bench) => bench.sheet);
  const store = useJobStore(job, edition);
  const view = store.viewOf(sheet);
  return view && !store.error ? <Loaded state={view} /> : <Waiting for={store} />;
}

function Loaded({ state }: { state: View }) {
  const {
    selected,
    also,
    hand,
    before,
    proof,
    walk,
    preview,
    view,
    panel: side,
    panelOf,
    unit: chosen,
    notes,
    layouts,
    set,
  } = usePicked(
    useBench,
    "selected",
    "also",
    "hand",
    "before",
    "proof",
    "walk",
    "preview",
    "view",
    "panel",
    "panelOf",
    "unit",
    "notes",
    "layouts",
    "set",
  );
  const texts = leaves(state.layout).filter((layer): layer is Text => layer.kind === "text");
  const text = texts.find((entry) => entry.id === selected);
  const bring = useImport(state.id);
  const [dates, setDates] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const [figures, setFigures] = useState<Figures>();
  const { edit } = useChange(state);
  const byKeys = useKeys(state);
  const { openingActions, textActions, sheetActions, layerMenu } = useBenchActions(state, byKeys, () =>
    setKeeping(true),
  );
  useScreenActions(() => [
    ...(text ? textActions(text) : selected ? openingActions() : []),
    ...sheetActions(),
    ...(isCalendar ? [{ label: t("Calendar…"), run: () => setDates(true) }] : []),
  ]);
  useEffect(() => walkOn(state), [state]);
  const isCalendar = state.sheets.some((sheet) => sheet.role === "month");
  useDocumentTitle(`${state.job.name}, Sutaru`);
  const { width_mm, height_mm } = state.layout;
  const unit = chosen ?? (pageSize(width_mm, height_mm).endsWith("in") ? "in" : "mm");
  const [onScreen, setOnScreen] = useState("");
  const panel = panelOf && state.folded ? panelOf : undefined;
  const focus = panel && !walk ? cornersOf(panel) : state.rows.find((row) => row.opening === selected)?.shape;
  const isSmall = useIsSmall();
  const details = text ? (
    <WordsPanel key={text.id} state={state} text={text} />
  ) : also.length ? (
    <SeveralPanel state={state} />
  ) : selected ? (
    <OpeningPanel key={selected} state={state} opening={selected} />
  ) : null;
  const tour = (
    <Tour
      job={state.id}
      standing={{ screen: "bench", ...tally(state), stops: countFindings(state).stops, exported: false }}
    />
  );
  return (
    <UnitContext value={unit}>
      {/* A file dropped beside everything still comes into the pile. */}
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
            {t("Shelf")}
          </Link>
          <div className={css.title}>
            <div className={css.named}>
              <JobName state={state} />
              <Editions state={state} />
              <Kept job={state.id} />
            </div>
            <span>
              {[state.job.customer, state.job.order_number, state.lab.name].filter(Boolean).join(" · ")} ·{" "}
              <span className="num">{sheetSize(width_mm, height_mm, state.folded)}</span>
              {state.newer > 0 &&
                t(" · from an earlier revision of its template (now {newer})", { newer: state.newer })}
            </span>
          </div>
          <UndoRedo state={state} />
          <FillMenu state={state} />
          <Folded when={useIsNarrow(760)} label={t("More")}>
            <WalkButton state={state} />
            <SheetViewMenu />
            <Button
              component={Link}
              href={jobAddress(state.id, { edition: editionIn(state) }, "dispatch")}
              variant="filled"
            >
              {t("Dispatch")}
            </Button>
          </Folded>
        </header>
        <div className={css.middle}>
          <SheetStrip state={state} />
          {/* biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is what is pressed */}
          <div
            className={css.sheet}
            onDrop={(event) => dropOnSheet(state, edit, event)}
            onContextMenu={(event) => {
              if (event.target instanceof Element && event.target.closest("[data-stage]"))
                openMenuAt(event, state.sheet.name, sheetActions());
            }}
          >
            <Stage
              key={state.sheet.id}
              sheet={state.layout}
              picture={(width) =>
                preview?.picture ?? sheetPicture(state.key, width, notes && !walk && !proof, !before, proof)
              }
              alt={t("{name} as it will print", { name: state.sheet.name })}
              unit={unit}
              onUnit={(unit) => set({ unit })}
              view={view}
              onView={(view) => set({ view: heldView(view) })}
              onFit={setFit}
              focus={focus}
              focusName={panel && !walk ? panel.name : selected}
              close={(!!walk || !!panel) && !!focus}
              turned={panel?.turned && !walk}
              onGround={() => set({ selected: undefined, hand: undefined })}
              onShown={setOnScreen}
            >
              {(seen) => (
                <>
                  {proof && (
                    <PointedAt
                      picture={state.key}
                      scale={seen.scale}
                      bleed={state.layout.bleed_mm ?? 3}
                      onFigures={setFigures}
                    />
                  )}
                  <DraftEnds state={state} onScreen={onScreen} />
                  <DraftPhoto state={state} screenFromPage={seen.screenFromPage} />
                  <Overlay
                    state={state}
                    texts={texts.filter((entry) => entry.visible !== false)}
                    seen={seen}
                    onMenu={layerMenu}
                  />
                </>
              )}
            </Stage>
            {proof && !walk && <ProofStrip lab={state.lab} figures={figures} />}
            <div className={css.view} data-beside={(proof && !walk) || undefined}>
              <Folded when={isSmall} label={t("Sheet")} size="compact-sm">
                <div className={css.leading}>
                  {state.sheets.length > 1 && (
                    <Button
                      component={Link}
                      variant="default"
                      size="compact-sm"
                      href={jobAddress(state.id, { edition: editionIn(state) }, "plan")}
                    >
                      {t("Flat plan")}
                    </Button>
                  )}
                  {isCalendar && (
                    <Button variant="default" size="compact-sm" onClick={() => setDates(true)}>
                      {t("Calendar…")}
                    </Button>
                  )}
                  <Panels state={state} />
                  <LayoutsButton state={state} />
                  <Button variant="default" size="compact-sm" onClick={() => addText(state, edit)}>
                    {t("Add text")}
                  </Button>
                  <Button
                    component={Link}
                    variant="default"
                    size="compact-sm"
                    href={jobAddress(
                      state.id,
                      { sheet: state.sheet.id, edition: editionIn(state) },
                      "workshop",
                    )}
                  >
                    {t("Edit layout")}
                  </Button>
                </div>
              </Folded>
              <ViewButtons view={view} onView={(view) => set({ view })} />
              <KeysHelp tables={HELP} manual="fill" />
            </div>
            {preview && <PreviewBar state={state} />}
            <Running job={state.id} />
            {isSmall && tour}
            {before && (
              <p className={css.badge} role="status">
                {t("Before adjustments. B shows after.")}
              </p>
            )}
          </div>
          <Side
            name="bench"
            parts={[
              { name: "ledger", label: t("Ledger"), content: <Ledger state={state} /> },
              {
                name: "findings",
                label: <Counts state={state} />,
                content: <Findings state={state} />,
              },
              ...(details ? [{ name: "details", label: t("Details"), content: details }] : []),
            ]}
            head={
              <>
                {tour}
                <SegmentedControl
                  size="xs"
                  flex="none"
                  fullWidth
                  radius={0}
                  value={side}
                  onChange={(value) => set({ panel: value as "ledger" | "findings" })}
                  data={[
                    { value: "ledger", label: t("Ledger") },
                    { value: "findings", label: <Counts state={state} /> },
                  ]}
                />
              </>
            }
            upper={side === "ledger" ? <Ledger state={state} /> : <Findings state={state} />}
            lower={details}
          />
        </div>
        {walk ? <WalkStrip state={state} /> : layouts ? <Layouts state={state} /> : <Pile state={state} />}
        <PhotoRoom state={state} />
        {dates && <CalendarDialog state={state} onClose={() => setDates(false)} />}
        {keeping && <KeepDialog state={state} onClose={() => setKeeping(false)} />}
        {hand && <InHand state={state} />}
      </main>
    </UnitContext>
  );
}

const cornersOf = ({ left, top, width, height }: Panel): Point[] => [
  [left, top],
  [left + width, top],
  [left + width, top + height],
  [left, top + height],
];

/** What is shown over the sheet. */
function SheetViewMenu() {
  const { notes, guides, keeps, proof, set } = usePicked(
    useBench,
    "notes",
    "guides",
    "keeps",
    "proof",
    "set",
  );
  return (
    <ViewMenu
      shown={[
        { label: t("Numbers and notes"), hint: "N", on: notes, set: (notes) => set({ notes }) },
        { label: t("Cut lines"), hint: "G", on: guides, set: (guides) => set({ guides }) },
        { label: t("Keep areas"), hint: "K", on: keeps, set: (keeps) => set({ keeps }) },
        {
          label: t("Press preview"),
          hint: "O",
          on: Boolean(proof),
          set: (on) => set({ proof: on ? "paper" : undefined }),
        },
      ]}
    />
  );
}
