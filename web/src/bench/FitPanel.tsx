import { ActionIcon, Button, NumberInput, SegmentedControl, Tooltip } from "@mantine/core";
import IconFlipVertical from "@tabler/icons-react/icons/IconFlipVertical";
import IconHandMove from "@tabler/icons-react/icons/IconHandMove";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import type { JobState } from "../api/client";
import { useChange } from "../api/queries";
import { percent, trimmed } from "../ui/format";
import { Mark } from "../ui/Mark";
import { FoundHere } from "./Findings";
import { held, useFitting } from "./fitting";
import { fitByKey } from "./keys";
import { apply, clamped, type Lying, openingFromPhoto } from "./placing";
import css from "./side.module.css";
import { useBench } from "./store";

/** The selected opening in exact numbers. */
export function FitPanel({ state, opening }: { state: JobState; opening: string }) {
  const draft = useBench((bench) => bench.draft);
  const set = useBench((bench) => bench.set);
  const { edit } = useChange(state.id);
  const { nudge } = useFitting(state.id);
  const row = state.ledger.find((entry) => entry.opening === opening);
  const now = held(state, opening, draft);
  if (!row) return null;
  const findings = state.findings.filter((finding) => finding.layer === opening);
  const size = `${trimmed(row.width_mm, 1)} × ${trimmed(row.height_mm, 1)} mm`;
  if (!now)
    return (
      <section className={css.panel} aria-label={`Fit opening ${row.number}`}>
        <h3>
          Opening {row.number} <small className="num">{size}</small>
        </h3>
        <p className={css.hint}>
          Empty. Drop a photo on it, or click a photo in the pile and then this opening.
        </p>
      </section>
    );
  const { outline, photo, lying } = now;
  const change = (part: Partial<Lying>) =>
    nudge(opening, clamped(outline, photo, { ...lying, fit: "cover", ...part }));
  // Where the photo's middle lies, mm from the opening's centre: right and down are positive.
  const middle = apply(openingFromPhoto(outline, photo, lying), [photo.width / 2, photo.height / 2]);
  const shiftTo = (x: number, y: number) => {
    const by: Lying = { ...lying, fit: "cover" };
    const m = openingFromPhoto(outline, photo, by);
    const det = (m[0] ?? 1) * (m[4] ?? 1) - (m[1] ?? 0) * (m[3] ?? 0);
    const dx = middle[0] - x;
    const dy = middle[1] - y;
    const u = ((m[4] ?? 1) * dx - (m[1] ?? 0) * dy) / det;
    const v = ((m[0] ?? 1) * dy - (m[3] ?? 0) * dx) / det;
    change({ centre: [lying.centre[0] + u / photo.width, lying.centre[1] + v / photo.height] });
  };
  const mirror = fitByKey(now, "m", false);
  return (
    <section className={css.panel} aria-label={`Fit opening ${row.number}`}>
      <h3>
        <Mark status={row.status} /> Opening {row.number} <small className="num">{size}</small>
      </h3>
      <p className={`${css.hint} num`}>
        {photo.name}, {photo.width} × {photo.height} px
        <br />
        {Math.round(row.ppi ?? 0)} ppi, {percent(row.crop_share ?? 0)} cut
        {(row.zoom_least_ppi ?? 0) > 1
          ? `, can be zoomed to ${(Math.floor((row.zoom_least_ppi ?? 1) * 100) / 100).toFixed(2)} ×`
          : `, too small for ${state.job.lab.name}`}
      </p>
      <div className={css.numbers}>
        <NumberInput
          size="xs"
          label="Zoom ×"
          decimalScale={2}
          step={0.02}
          min={1}
          max={50}
          value={Number(lying.zoom.toFixed(2))}
          onChange={(value) => typeof value === "number" && change({ zoom: value })}
        />
        <NumberInput
          size="xs"
          label="Turn °"
          decimalScale={2}
          step={0.1}
          min={-180}
          max={180}
          value={Number(lying.turn_deg.toFixed(2))}
          onChange={(value) => typeof value === "number" && change({ turn_deg: value, fit: lying.fit })}
        />
        <NumberInput
          size="xs"
          label="Right mm"
          decimalScale={1}
          step={0.5}
          value={Number(middle[0].toFixed(1))}
          onChange={(value) => typeof value === "number" && shiftTo(value, middle[1])}
        />
        <NumberInput
          size="xs"
          label="Down mm"
          decimalScale={1}
          step={0.5}
          value={Number(middle[1].toFixed(1))}
          onChange={(value) => typeof value === "number" && shiftTo(middle[0], value)}
        />
      </div>
      <div className={css.tools}>
        <SegmentedControl
          size="xs"
          aria-label="Cover the opening or show the whole photo"
          value={lying.fit}
          onChange={(fit) => change({ fit: fit as Lying["fit"] })}
          data={[
            { value: "cover", label: "Cover" },
            { value: "whole", label: "Whole photo" },
          ]}
        />
        <Tooltip label="Mirror (M)">
          <ActionIcon
            variant={lying.mirror ? "filled" : "default"}
            aria-label="Mirror"
            aria-pressed={lying.mirror}
            onClick={() => mirror && nudge(opening, clamped(outline, photo, mirror))}
          >
            <IconFlipVertical size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Take in hand to swap (S)">
          <ActionIcon
            variant="default"
            aria-label="Take in hand to swap"
            onClick={() => set({ hand: { kind: "opening", opening } })}
          >
            <IconHandMove size={16} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Clear the opening (Delete)">
          <ActionIcon
            variant="default"
            aria-label="Clear the opening"
            onClick={() => edit.mutate({ edit: { op: "clear", openings: [opening] } })}
          >
            <IconTrash size={16} />
          </ActionIcon>
        </Tooltip>
        <Button variant="subtle" onClick={() => change({ centre: [0.5, 0.5], zoom: 1, turn_deg: 0 })}>
          Fit anew
        </Button>
      </div>
      <FoundHere findings={findings} />
    </section>
  );
}
