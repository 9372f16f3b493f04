/** A text box that is added to a sheet: where there is room for it, in the sheet's own style for captions where it has one. */
import type { NewLayer } from "../api/client";
import { boundsOf } from "../geometry/placing";
import { brightness, seenColour } from "../ui/colour/colours";
import { t } from "../words";
import type { useChange } from "./changes";
import { useBench } from "./store";
import { leaves, type View } from "./view";

type NewText = Extract<NewLayer, { kind: "text" }>;

const ACROSS = 13;
const DOWN = 25;
const GAP_MM = 2;
const FOLD_MM = 6; // on each side of it
const MM_PER_PT = 25.4 / 72;

/** Adds a text box to the sheet in view: what is typed next goes into it. */
export function addText(view: View, edit: ReturnType<typeof useChange>["edit"]) {
  const box = textBox(view);
  edit({ op: "add_layers", layers: [box] });
  useBench.getState().set({ selected: box.id, also: [], writing: box.id });
}

/** The box itself: its words are a sample until some are typed. */
export function textBox(view: View): NewText {
  const { layout } = view;
  const shorter = Math.min(layout.width_mm, layout.height_mm);
  const size_pt = Math.round(Math.max(8, Math.min(18, shorter * 0.06)));
  const width_mm = Math.round(layout.width_mm * 0.3);
  const height_mm = Math.ceil(size_pt * MM_PER_PT * 1.8);
  const style = Object.keys(layout.styles ?? {}).find((name) => name.toLowerCase() === "caption");
  return {
    id: `text-${crypto.randomUUID().slice(0, 8)}`,
    name: "",
    kind: "text",
    text: t("Text"),
    sample: true,
    centre: freest(view, width_mm, height_mm),
    width_mm,
    height_mm,
    turn_deg: 0,
    size_pt,
    colour: isDark(view) ? "#ffffff" : "#222222",
    ...(style && { style }),
  };
}

const round = (mm: number) => Math.round(mm * 10) / 10;

/** The centre of a box that covers least of what lies on the sheet and keeps within the safe area, low rather than high. */
function freest({ layout, frames }: View, wide: number, high: number): [number, number] {
  const { width_mm, height_mm, safe_mm = 0 } = layout;
  const taken = leaves(layout).flatMap((layer) => {
    const frame = ["opening", "text", "dates"].includes(layer.kind) && frames.get(layer.id);
    return frame ? [boundsOf(frame)] : [];
  });
  for (const { axis, at_mm } of layout.lines ?? []) {
    const [from, to] = [at_mm - FOLD_MM, at_mm + FOLD_MM];
    taken.push(
      axis === "x"
        ? { left: from, right: to, top: 0, bottom: height_mm }
        : { left: 0, right: width_mm, top: from, bottom: to },
    );
  }
  let best = { left: 0, top: 0, cost: Number.POSITIVE_INFINITY };
  for (let row = 0; row < DOWN; row += 1)
    for (let column = 0; column < ACROSS; column += 1) {
      const [x, y] = [column / (ACROSS - 1), row / (DOWN - 1)];
      const left = safe_mm + x * Math.max(0, width_mm - 2 * safe_mm - wide);
      const top = safe_mm + y * Math.max(0, height_mm - 2 * safe_mm - high);
      const covered = taken.reduce(
        (sum, box) =>
          sum +
          Math.max(0, Math.min(left + wide, box.right + GAP_MM) - Math.max(left, box.left - GAP_MM)) *
            Math.max(0, Math.min(top + high, box.bottom + GAP_MM) - Math.max(top, box.top - GAP_MM)),
        0,
      );
      const cost = covered / (wide * high) + 0.01 * (1 - y) + 0.004 * Math.abs(x - 0.5);
      if (cost < best.cost) best = { left, top, cost };
    }
  return [round(best.left + wide / 2), round(best.top + high / 2)];
}

/** Whether the ground of a sheet is dark, so that letters on it are light. */
function isDark(view: View): boolean {
  const ground = view.layout.layers.find((layer) => layer.kind === "background");
  const colour = seenColour(view, (ground?.kind === "background" && ground.colour) || "#ffffff");
  return brightness(colour) < 110;
}
