import { ActionIcon, Button, Tooltip } from "@mantine/core";
import IconAlignBoxBottomCenter from "@tabler/icons-react/icons/IconAlignBoxBottomCenter";
import IconAlignBoxCenterMiddle from "@tabler/icons-react/icons/IconAlignBoxCenterMiddle";
import IconAlignBoxCenterStretch from "@tabler/icons-react/icons/IconAlignBoxCenterStretch";
import IconAlignBoxLeftMiddle from "@tabler/icons-react/icons/IconAlignBoxLeftMiddle";
import IconAlignBoxRightMiddle from "@tabler/icons-react/icons/IconAlignBoxRightMiddle";
import IconAlignBoxTopCenter from "@tabler/icons-react/icons/IconAlignBoxTopCenter";
import { useState } from "react";
import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { boundsOf } from "../geometry/placing";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { useUnit } from "../ui/units";
import { t } from "../words";
import { cornersOf, type Layer } from "./layers";
import type { useHands } from "./useHands";
import css from "./workshop.module.css";

type Hands = Pick<ReturnType<typeof useHands>, "make" | "repeat">;

const EDGES = [
  ["left", t("Left edges"), IconAlignBoxLeftMiddle],
  ["centre", t("Horizontal centres"), IconAlignBoxCenterMiddle],
  ["right", t("Right edges"), IconAlignBoxRightMiddle],
  ["top", t("Top edges"), IconAlignBoxTopCenter],
  ["middle", t("Vertical centres"), IconAlignBoxCenterStretch],
  ["bottom", t("Bottom edges"), IconAlignBoxBottomCenter],
] as const;
const TO = [
  { value: "each_other", label: t("each other") },
  { value: "page", label: t("the page") },
  { value: "left_page", label: t("the left page") },
  { value: "right_page", label: t("the right page") },
  { value: "safe", label: t("the safe area") },
] as const;

/** What is selected, arranged: aligned, mirrored, grouped, at equal gaps, repeated, split, joined. */
export function Arrange({ state, chosen, hands }: { state: View; chosen: Layer[]; hands: Hands }) {
  const { make, repeat } = hands;
  const { edit } = useChange(state);
  const ids = chosen.map((layer) => layer.id);
  const several = chosen.length > 1;
  const [to, setTo] = useState<(typeof TO)[number]["value"] | `guide ${number}`>("each_other");
  const [gap, setGap] = useState(4);
  const [columns, setColumns] = useState(3);
  const [rows, setRows] = useState(1);
  const openings = chosen.filter((layer) => layer.kind === "opening");
  const corners = cornersOf(state.layout.layers, state.frames, ids);
  const box = corners.length ? boundsOf(corners) : undefined;
  const { length } = useUnit();
  const guides = (state.layout.guides ?? []).map((guide, n) => ({
    value: `guide ${n}` as const,
    label:
      guide.axis === "x"
        ? t("the guide at {place} across", { place: length(guide.at_mm) })
        : t("the guide at {place} down", { place: length(guide.at_mm) }),
    guide,
  }));
  const guide = guides.find((one) => one.value === to)?.guide;
  const line = TO.find(({ value }) => value === to && (several || value !== "each_other"))?.value ?? "page";
  const mirrored = (mirror: "left_right" | "top_bottom") => edit({ op: "carry", layers: ids, mirror });
  const distribute = (axis: "x" | "y", how: { by?: "gap" | "centre"; gap_mm?: number } = {}) =>
    edit({ op: "distribute", layers: ids, axis, by: "gap", ...how });
  return (
    <>
      <div className={side.group}>
        <div className={css.row}>
          {EDGES.map(([edge, label, Icon]) => (
            <Tooltip key={edge} label={label}>
              <ActionIcon
                variant="default"
                aria-label={t("Align: {label}", { label: label.toLowerCase() })}
                disabled={!!guide && (guide.axis === "x") !== ["left", "centre", "right"].includes(edge)}
                onClick={() =>
                  edit({
                    op: "align",
                    layers: ids,
                    edge,
                    ...(guide ? { line_mm: guide.at_mm } : { to: line }),
                  })
                }
              >
                <Icon size={16} />
              </ActionIcon>
            </Tooltip>
          ))}
          <Choice
            bare
            label={t("Align to")}
            value={guide ? to : line}
            data={[...(several ? TO : TO.slice(1)), ...guides]}
            onChange={setTo}
          />
        </div>
        <div className={css.row}>
          <Button size="compact-xs" variant="default" onClick={() => mirrored("left_right")}>
            {t("Flip horizontal")}
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => mirrored("top_bottom")}>
            {t("Flip vertical")}
          </Button>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => edit({ op: "carry", layers: ids, turn_deg: 90 })}
          >
            {t("Rotate 90°")}
          </Button>
          {several && (
            <Button size="compact-xs" variant="default" onClick={() => make({ op: "gather", layers: ids })}>
              {t("Group")}
            </Button>
          )}
          {chosen.some((layer) => layer.kind === "group") && (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                edit({
                  op: "dissolve",
                  groups: chosen.filter((layer) => layer.kind === "group").map((layer) => layer.id),
                })
              }
            >
              {t("Ungroup")}
            </Button>
          )}
        </div>
        {several && (
          <div className={css.row}>
            <Button
              size="compact-xs"
              variant="default"
              disabled={chosen.length < 3}
              onClick={() => distribute("x")}
            >
              {t("Equal gaps across")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={chosen.length < 3}
              onClick={() => distribute("y")}
            >
              {t("Equal gaps down")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={chosen.length < 3}
              onClick={() => distribute("x", { by: "centre" })}
            >
              {t("Even centres across")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={chosen.length < 3}
              onClick={() => distribute("y", { by: "centre" })}
            >
              {t("Even centres down")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => edit({ op: "same_size", layers: ids, side: "width" })}
            >
              {t("Same width")}
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => edit({ op: "same_size", layers: ids, side: "height" })}
            >
              {t("Same height")}
            </Button>
            {openings.length === chosen.length && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => make({ op: "make_one", openings: ids })}
              >
                {t("Merge into one opening")}
              </Button>
            )}
          </div>
        )}
      </div>
      <div className={side.group}>
        <div className={css.figures}>
          <NumberField label={t("Columns")} min={1} max={50} value={columns} onKeep={setColumns} />
          <NumberField label={t("Rows")} min={1} max={50} value={rows} onKeep={setRows} />
          <NumberField label={t("Gap")} unit="mm" min={-500} max={500} value={gap} onKeep={setGap} />
        </div>
        <div className={css.row}>
          <Button
            size="compact-xs"
            variant="default"
            disabled={!box || columns * rows < 2}
            onClick={() =>
              box &&
              repeat(
                ids,
                { columns, rows, step_mm: [box.right - box.left + gap, box.bottom - box.top + gap] },
                ids,
              )
            }
          >
            {t("Repeat")}
          </Button>
          {chosen.length === 1 && openings.length === 1 && (
            <Button
              size="compact-xs"
              variant="default"
              disabled={columns * rows < 2}
              onClick={() => make({ op: "split", opening: ids[0] ?? "", columns, rows, gap_mm: [gap, gap] })}
            >
              {t("Split")}
            </Button>
          )}
          {several && (
            <>
              <Button size="compact-xs" variant="default" onClick={() => distribute("x", { gap_mm: gap })}>
                {t("Set gap across")}
              </Button>
              <Button size="compact-xs" variant="default" onClick={() => distribute("y", { gap_mm: gap })}>
                {t("Set gap down")}
              </Button>
            </>
          )}
        </div>
      </div>
    </>
  );
}
