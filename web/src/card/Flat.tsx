import type { Folding } from "../api/client";
import { t } from "../words";
import css from "./card.module.css";

const WIDE = 380;
const HIGH = 190;

/** One side of a sheet laid flat: its panels by name, those upside down drawn so. */
export function Flat({ folding, side }: { folding: Folding; side: "outside" | "inside" }) {
  const { width_mm, height_mm } = folding;
  const scale = Math.min(WIDE / width_mm, HIGH / height_mm);
  return (
    <figure className={css.flat}>
      <svg
        width={width_mm * scale}
        height={height_mm * scale}
        viewBox={`0 0 ${width_mm} ${height_mm}`}
        role="img"
        aria-label={t("The {side}, flat", { side })}
      >
        {folding.panels
          .filter((panel) => panel.side === side)
          .map((panel) => {
            const [x, y] = [panel.left + panel.width / 2, panel.top + panel.height / 2];
            return (
              <g key={panel.name}>
                <rect x={panel.left} y={panel.top} width={panel.width} height={panel.height} />
                <g transform={`translate(${x} ${y}) rotate(${panel.turned ? 180 : 0})`}>
                  <text fontSize={Math.min(11, panel.width / 8)} textAnchor="middle">
                    {panel.name}
                  </text>
                  <path d="M-4 -12 L0 -18 L4 -12 M0 -18 V-8" />
                </g>
              </g>
            );
          })}
      </svg>
      <figcaption>{side}</figcaption>
    </figure>
  );
}
