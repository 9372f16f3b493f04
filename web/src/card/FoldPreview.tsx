import { Slider } from "@mantine/core";
import { type CSSProperties, type ReactNode, useRef, useState } from "react";
import { type FoldedJob, type Panel, sheetPicture } from "../api/client";
import { useLayout } from "../editing/layouts";
import type { View } from "../editing/view";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";
import css from "./card.module.css";

const ROOM = 300; // px of the closed card's longer side
const STEP = 6; // degrees a key turns it by

type Angle = [number, number];

/** The card in space: opened and closed by a dial, turned by the pointer or by keys. */
export function FoldPreview({
  state,
  folded,
  onClose,
}: {
  state: View;
  folded: FoldedJob;
  onClose: () => void;
}) {
  const { folding } = folded;
  const [open, setOpen] = useState(0.35);
  const [angle, setAngle] = useState<Angle>([-18, 28]);
  const from = useRef<{ at: Angle; angle: Angle }>(undefined);
  const scale = ROOM / Math.max(...folding.closed_mm);
  const turn = (down: number, across: number) => setAngle(([a, b]) => [a + down, b + across]);
  const still = folding.panels.find((panel) => panel.number === folding.still && panel.side === "inside");
  if (!still) return null;
  const steps = Math.max(...folding.hinges.map((hinge) => hinge.order)) + 1;
  /** How far a hinge has closed, 0 flat to 1 closed; those that close first open last. */
  const closed = (order: number) => Math.min(1, Math.max(0, (1 - open) * steps - order));
  const parts = (number: number, key: string): ReactNode => (
    <>
      {(["inside", "outside"] as const).map((side) => {
        const panel = folding.panels.find((one) => one.number === number && one.side === side);
        return (
          panel && (
            <Face
              key={`${key} ${side}`}
              state={state}
              folded={folded}
              panel={panel}
              axis={folding.axis}
              scale={scale}
            />
          )
        );
      })}
      {folding.hinges
        .filter((hinge) => hinge.onto === number)
        .map((hinge) => {
          const base = folding.panels.find((one) => one.number === number && one.side === "inside");
          const panel = folding.panels.find((one) => one.number === hinge.panel && one.side === "inside");
          if (!base || !panel) return null;
          const along = folding.axis === "x" ? "left" : "top";
          const before = hinge.panel < number;
          const offset = (panel[along] - base[along]) * scale;
          const size = (folding.axis === "x" ? panel.width : panel.height) * scale;
          // Towards the inside is towards the eye on the inside.
          const way = (before ? 1 : -1) * (hinge.valley ? 1 : -1) * (folding.axis === "x" ? 1 : -1);
          const degrees = way * 179 * closed(hinge.order);
          const style: CSSProperties = {
            [along]: offset,
            width: panel.width * scale,
            height: panel.height * scale,
            transformOrigin:
              folding.axis === "x" ? `${before ? size : 0}px center` : `center ${before ? size : 0}px`,
            transform: `rotate${folding.axis === "x" ? "Y" : "X"}(${degrees}deg)`,
          };
          return (
            <div key={hinge.panel} className={css.leaf} style={style}>
              {parts(hinge.panel, `${key}-${hinge.panel}`)}
            </div>
          );
        })}
    </>
  );
  return (
    <Dialog onClose={onClose} title={t("Folded")} size={860}>
      <div className={css.dials}>
        <span id="how-far">{t("Closed to open")}</span>
        <Slider
          thumbLabel={t("Closed to open")}
          label={null}
          min={0}
          max={1}
          step={0.01}
          value={open}
          onChange={setOpen}
        />
      </div>
      <div
        className={css.space}
        role="group"
        aria-label={t("The card in space: arrows turn it")}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: turned by keys
        tabIndex={0}
        onKeyDown={(event) => {
          const by = {
            ArrowLeft: [0, -STEP],
            ArrowRight: [0, STEP],
            ArrowUp: [STEP, 0],
            ArrowDown: [-STEP, 0],
          }[event.key];
          if (!by) return;
          event.preventDefault();
          turn(by[0] ?? 0, by[1] ?? 0);
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = { at: [event.clientX, event.clientY], angle };
        }}
        onPointerMove={(event) => {
          const held = from.current;
          if (!held) return;
          setAngle([
            held.angle[0] - (event.clientY - held.at[1]) / 3,
            held.angle[1] + (event.clientX - held.at[0]) / 3,
          ]);
        }}
        onPointerUp={() => {
          from.current = undefined;
        }}
      >
        <div
          className={css.leaf}
          style={{
            position: "relative",
            width: still.width * scale,
            height: still.height * scale,
            // Closed, the front is seen: the inside faces away then.
            transform: `rotateX(${angle[0]}deg) rotateY(${angle[1]}deg)`,
          }}
        >
          {parts(folding.still, "still")}
        </div>
      </div>
    </Dialog>
  );
}

/** One face of a panel: its part of its sheet's picture, seen from its own side. */
function Face({
  state,
  folded,
  panel,
  axis,
  scale,
}: {
  state: View;
  folded: FoldedJob;
  panel: Panel;
  axis: "x" | "y";
  scale: number;
}) {
  const index = state.sheets.findIndex((sheet) => sheet.id === folded[panel.side]);
  const layout = useLayout(state.sheets[index]?.layout);
  const bleed = layout?.bleed_mm ?? 3;
  const key = state.marks[index]?.key;
  // The outside is the inside turned over about the folds' direction.
  const over = axis === "x" ? "rotateY(180deg)" : "rotateX(180deg)";
  return (
    <div
      className={css.face}
      style={{
        width: panel.width * scale,
        height: panel.height * scale,
        transform: panel.side === "outside" ? over : undefined,
      }}
    >
      {layout && key && (
        <img
          src={sheetPicture(key, 1200)}
          alt={panel.name}
          draggable={false}
          style={{
            width: (layout.width_mm + 2 * bleed) * scale,
            left: -(bleed + panel.left) * scale,
            top: -(bleed + panel.top) * scale,
          }}
        />
      )}
    </div>
  );
}
