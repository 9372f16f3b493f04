import { ActionIcon, Button, SegmentedControl, Tooltip } from "@mantine/core";
import IconFlipVertical from "@tabler/icons-react/icons/IconFlipVertical";
import IconHandMove from "@tabler/icons-react/icons/IconHandMove";
import IconPin from "@tabler/icons-react/icons/IconPin";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import { memo, useMemo, useRef } from "react";
import type { Row } from "../../api/client";
import { useChange } from "../../editing/changes";
import { type Held, held, useFitting } from "../../editing/fitting";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { apply, clamped, type Lying, MAX_ZOOM, openingFromPhoto, type Point } from "../../geometry/placing";
import { Dial } from "../../ui/Dial";
import { fixed, percent, trimmed } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { useUnit } from "../../ui/units";
import { usePicked } from "../../ui/usePicked";
import { t } from "../../words";
import { useClear } from "../clearing";
import { fitByKey } from "../keys";
import css from "../side.module.css";
import { ResetProportions } from "./ResetProportions";

/** How the photo of the selected opening lies, in exact numbers. */
export function FitPart({ state, row }: { state: View; row: Row }) {
  const { heat, set } = usePicked(useBench, "heat", "set");
  const { edit } = useChange(state);
  const clear = useClear(state);
  const { nudge } = useFitting(state);
  const { length } = useUnit();
  const opening = row.opening;
  // While the photo is pulled only its figures are drawn anew.
  const drafted = useBench(({ draft }) =>
    draft?.opening === opening ? [draft.lying.fit, draft.lying.mirror, draft.lying.ratio].join() : "",
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is drafted is read from the store
  const now = useMemo(() => held(state, opening), [state, opening, drafted]);
  const pinned = !!row.pinned;
  const pin = (
    <Tooltip label={pinned ? t("Unpin (P)") : t("Pin: filling never changes it (P)")}>
      <ActionIcon
        variant={pinned ? "filled" : "default"}
        aria-label={t("Pin")}
        aria-pressed={pinned}
        onClick={() => edit({ op: "pin", openings: [opening], pinned: !pinned })}
      >
        <IconPin size={16} />
      </ActionIcon>
    </Tooltip>
  );
  if (!now)
    return (
      <>
        <p className={css.hint}>
          {t("Empty. Drop a photo on it, or click a photo in the pile and then this opening.")}
        </p>
        <div className={css.tools}>{pin}</div>
      </>
    );
  const { photo, lying } = now;
  const change = (part: Partial<Lying>) => {
    const latest = held(state, opening);
    if (latest) nudge(opening, clamped(latest.outline, photo, { ...latest.lying, fit: "cover", ...part }));
  };
  const mirror = fitByKey(now, "m", false);
  const small = (row.ppi ?? 0) < state.lab.ppi_target;
  return (
    <>
      <p className={`${css.hint} num`}>
        {t("{name}, {width} × {height} px", { name: photo.name, width: photo.width, height: photo.height })}
        <br />
        {(row.zoom_least_ppi ?? 0) > 1
          ? t("{ppi} ppi, {cut} cut, can be zoomed to {zoom} ×", {
              ppi: Math.round(row.ppi ?? 0),
              cut: percent(row.crop_share ?? 0),
              zoom: fixed(Math.floor((row.zoom_least_ppi ?? 1) * 100) / 100, 2),
            })
          : t("{ppi} ppi, {cut} cut, too small for {lab}", {
              ppi: Math.round(row.ppi ?? 0),
              cut: percent(row.crop_share ?? 0),
              lab: state.lab.name,
            })}
        {small && (
          <>
            <br />
            {t("It reaches {ppi_target} ppi up to {width} wide.", {
              ppi_target: state.lab.ppi_target,
              width: length(row.width_at_target_mm ?? 0),
            })}
          </>
        )}
        {lying.ratio && (
          <>
            <br />
            {t("Cropped to {ratio} : 1", { ratio: trimmed(lying.ratio, 3) })}
          </>
        )}
        {row.distortion > 1.005 && (
          <>
            <br />
            {t("Stretched {distortion} : 1 by its surface", { distortion: fixed(row.distortion, 2) })}{" "}
            <ResetProportions state={state} row={row} />
          </>
        )}
      </p>
      <Figures state={state} opening={opening} />
      <SegmentedControl
        size="xs"
        fullWidth
        mt={8}
        aria-label={t("Cover the opening or show the whole photo")}
        value={lying.fit}
        onChange={(fit) => change({ fit: fit as Lying["fit"] })}
        data={[
          { value: "cover", label: t("Cover") },
          { value: "whole", label: t("Whole") },
          { value: "continued", label: t("Mirror edges") },
          { value: "woven", label: t("Extend edges") },
        ]}
      />
      <div className={css.tools}>
        <Tooltip label={t("Mirror (M)")}>
          <ActionIcon
            variant={lying.mirror ? "filled" : "default"}
            aria-label={t("Mirror")}
            aria-pressed={lying.mirror}
            onClick={() => mirror && nudge(opening, clamped(now.outline, photo, mirror))}
          >
            <IconFlipVertical size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label={t("Pick up to swap (S)")}>
          <ActionIcon
            variant="default"
            aria-label={t("Pick up to swap")}
            onClick={() => set({ hand: { kind: "opening", opening } })}
          >
            <IconHandMove size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label={t("Clear the opening (Delete)")}>
          <ActionIcon variant="default" aria-label={t("Clear the opening")} onClick={() => clear([opening])}>
            <IconTrash size={16} />
          </ActionIcon>
        </Tooltip>
        {pin}
        <Button
          size="compact-xs"
          variant={heat ? "filled" : "default"}
          aria-pressed={heat}
          title={t("Print resolution map (H)")}
          onClick={() => set({ heat: !heat })}
        >
          {t("ppi")}
        </Button>
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() => change({ centre: [0.5, 0.5], zoom: 1, turn_deg: 0, ratio: null })}
        >
          {t("Reset fit")}
        </Button>
      </div>
      <div className={css.tools}>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => set({ photoRoom: opening, retouching: false })}
        >
          {t("Crop and straighten…")}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          title={t("What must stay visible (V)")}
          onClick={() => edit({ op: "keep_in_view", openings: [opening] })}
        >
          {t("Show keep areas in frame")}
        </Button>
      </div>
      {row.span && <SpanTools state={state} row={row} />}
    </>
  );
}

/** Zoom, turn and place in figures, also while the photo is pulled. */
function Figures({ state, opening }: { state: View; opening: string }) {
  const draft = useBench((bench) => bench.draft);
  const { nudge } = useFitting(state);
  const latest = useRef({ state, nudge });
  latest.current = { state, nudge };
  // The same functions as long as it is the same opening: a figure that did not change is not drawn anew.
  const keep = useMemo(() => {
    const change = (part: (now: Held) => Partial<Lying>) => {
      const now = held(latest.current.state, opening);
      if (!now) return;
      const lying = { ...now.lying, fit: "cover" as const, ...part(now) };
      latest.current.nudge(opening, clamped(now.outline, now.photo, lying));
    };
    return {
      zoom: (zoom: number) => change(() => ({ zoom })),
      turn: (turn_deg: number) => change(({ lying }) => ({ turn_deg, fit: lying.fit })),
      right: (x: number) => change((now) => ({ centre: centreAt(now, x, middleOf(now)[1]) })),
      down: (y: number) => change((now) => ({ centre: centreAt(now, middleOf(now)[0], y) })),
    };
  }, [opening]);
  const now = held(state, opening, draft);
  if (!now) return null;
  const [right, down] = middleOf(now);
  return (
    <div className={css.numbers}>
      <Figure
        label={t("Zoom ×")}
        step={0.02}
        min={1}
        max={MAX_ZOOM}
        value={now.lying.zoom}
        onKeep={keep.zoom}
      />
      <Figure
        label={t("Turn °")}
        step={0.1}
        min={-180}
        max={180}
        value={now.lying.turn_deg}
        onKeep={keep.turn}
      />
      <Figure label={t("Right")} unit="mm" step={0.5} value={right} onKeep={keep.right} />
      <Figure label={t("Down")} unit="mm" step={0.5} value={down} onKeep={keep.down} />
    </div>
  );
}

const Figure = memo(NumberField);

/** Where the photo's middle lies, mm from the opening's centre: right and down are positive. */
const middleOf = ({ outline, photo, lying }: Held): Point =>
  apply(openingFromPhoto(outline, photo, lying), [photo.width / 2, photo.height / 2]);

/** What the middle of a covered opening shows, in shares of the photo, when the photo's middle lies at x, y. */
function centreAt(now: Held, x: number, y: number): [number, number] {
  const { outline, photo, lying } = now;
  const m = openingFromPhoto(outline, photo, { ...lying, fit: "cover" });
  const det = (m[0] ?? 1) * (m[4] ?? 1) - (m[1] ?? 0) * (m[3] ?? 0);
  const middle = middleOf(now);
  const dx = middle[0] - x;
  const dy = middle[1] - y;
  const u = ((m[4] ?? 1) * dx - (m[1] ?? 0) * dy) / det;
  const v = ((m[0] ?? 1) * dy - (m[3] ?? 0) * dx) / det;
  return [lying.centre[0] + u / photo.width, lying.centre[1] + v / photo.height];
}

/** An opening of a span: nudged off the others, put back, or on its own again. */
function SpanTools({ state, row }: { state: View; row: Row }) {
  const { edit } = useChange(state);
  const span = state.filling.spans?.[row.span ?? ""];
  const [x = 0, y = 0] = span?.nudged?.[row.opening] ?? [];
  const nudge = (by: [number, number], gesture?: string) =>
    edit({ op: "nudge", opening: row.opening, by }, { gesture });
  return (
    <div className={css.group}>
      <p className={css.hint}>
        {t("Its photo is spread across {openings} openings.", { openings: span?.openings.length ?? 0 })}
      </p>
      <Dial
        label={t("Nudge right")}
        unit="mm"
        min={-20}
        max={20}
        step={0.1}
        value={x}
        onKeep={(v, g) => nudge([v, y], g)}
      />
      <Dial
        label={t("Nudge down")}
        unit="mm"
        min={-20}
        max={20}
        step={0.1}
        value={y}
        onKeep={(v, g) => nudge([x, v], g)}
      />
      <div className={css.tools}>
        <Button size="compact-xs" variant="default" disabled={!x && !y} onClick={() => nudge([0, 0])}>
          {t("Reset nudge")}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => edit({ op: "unspan", opening: row.opening })}
        >
          {t("Separate")}
        </Button>
      </div>
    </div>
  );
}
