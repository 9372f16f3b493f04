import { useQuery } from "@tanstack/react-query";
import { answer, api, type PpiCell } from "../../api/client";
import type { View } from "../../editing/view";
import { apply, type Matrix, type Point, path } from "../../geometry/placing";
import css from "../../stage/stage.module.css";
import { t } from "../../words";

/** What an opening prints at, place by place: darker where it is worse; the worst and the best place in figures. */
export function Heat({
  state,
  opening,
  screenFromPage,
}: {
  state: View;
  opening: string;
  screenFromPage: Matrix;
}) {
  const { data: cells } = useQuery({
    queryKey: ["ppi", state.key, opening],
    queryFn: ({ signal }) =>
      answer<PpiCell[]>(
        api.GET("/api/drawn/{key}/openings/{opening}/ppi", {
          signal,
          params: { path: { key: state.key, opening } },
        }),
      ),
    placeholderData: (before) => before,
  });
  if (!cells?.length) return null;
  const { ppi_least: least, ppi_target: target } = state.lab;
  const values = cells.map((cell) => cell.ppi);
  const low = Math.min(...values);
  const high = Math.max(...values);
  const worst = cells[values.indexOf(low)];
  const best = cells[values.indexOf(high)];
  const tone = (ppi: number) => (ppi < least ? "stop" : ppi < target ? "look" : "order");
  const share = (ppi: number) => (high - low < 0.01 * high ? 0.5 : (high - ppi) / (high - low));
  const middle = (cell: PpiCell): Point => {
    const points = cell.points;
    return apply(screenFromPage, [
      points.reduce((sum, p) => sum + p[0], 0) / 4,
      points.reduce((sum, p) => sum + p[1], 0) / 4,
    ]);
  };
  return (
    <g className={css.heat} data-testid="heat" pointerEvents="none">
      <title>{t("From {low} to {high} ppi", { low: Math.round(low), high: Math.round(high) })}</title>
      {cells.map((cell) => {
        const d = path(cell.points.map((point) => apply(screenFromPage, point)));
        return (
          <path
            key={`${cell.points[0]}`}
            d={d}
            style={{ fill: `var(--${tone(cell.ppi)})`, fillOpacity: 0.15 + 0.5 * share(cell.ppi) }}
          />
        );
      })}
      {worst && best && (
        <>
          <Figure at={middle(worst)} value={low} />
          {high - low > 0.03 * high && <Figure at={middle(best)} value={high} />}
        </>
      )}
    </g>
  );
}

const Figure = ({ at: [x, y], value }: { at: Point; value: number }) => (
  <g className={css.readout} transform={`translate(${x} ${y})`}>
    <rect x={-30} y={-11} width={60} height={22} rx={2} />
    <text textAnchor="middle" y={4}>
      {t("{ppi} ppi", { ppi: Math.round(value) })}
    </text>
  </g>
);
