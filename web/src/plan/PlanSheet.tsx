import type { MouseEvent, ReactNode } from "react";
import { sheetPicture } from "../api/client";
import { CARRIED } from "../editing/sheets";
import type { View } from "../editing/view";
import { Mark } from "../ui/Mark";
import { t, tn } from "../words";
import css from "./plan.module.css";
import type { useDrops } from "./useDrops";

/** What was found on a sheet, for its print. */
const describeFound = (stops: number, looks: number) =>
  [stops && tn(stops, "{n} stop", "{n} stops"), looks && tn(looks, "{n} look", "{n} looks")]
    .filter(Boolean)
    .join(", ");

/** A sheet in the plan: its picture, its name and page numbers, how full it is, what was found, remarks on it. */
export function PlanSheet({
  state,
  at,
  number,
  isSelected,
  carried,
  drops,
  onClick,
  onOpen,
  onMenu,
  children,
}: {
  state: View;
  at: number;
  number: string;
  isSelected: boolean;
  /** The sheets that go along when it is pulled. */
  carried: string[];
  drops: ReturnType<typeof useDrops>;
  onClick: (event: MouseEvent<HTMLElement>) => void;
  onOpen: () => void;
  onMenu: (event: MouseEvent<HTMLElement>) => void;
  children: ReactNode;
}) {
  const sheet = state.sheets[at];
  const mark = state.marks[at];
  if (!sheet) return null;
  const [openings = 0, full = 0, stops = 0, looks = 0, checking = 0] = mark?.counts ?? [];
  const found = stops ? "stop" : looks ? "look" : checking ? "checking" : "order";
  return (
    <li data-over={drops.over === sheet.id || undefined}>
      <button
        type="button"
        data-sheet={sheet.id}
        data-name={sheet.name}
        aria-pressed={isSelected}
        draggable
        onDragStart={(event) => {
          event.dataTransfer.setData(CARRIED, carried.join(" "));
          event.dataTransfer.effectAllowed = "move";
        }}
        {...drops.place(sheet.id)}
        onClick={onClick}
        onDoubleClick={onOpen}
        onContextMenu={onMenu}
      >
        <span className={css.picture}>
          <img
            src={sheetPicture(mark?.key ?? "", 300)}
            alt=""
            style={{ aspectRatio: mark?.ratio }}
            draggable={false}
          />
          {(state.job.remarks ?? []).map(
            (remark, n) =>
              remark.sheet === sheet.id &&
              !remark.done && (
                <span
                  key={remark.id}
                  className={css.remark}
                  style={{ left: `${100 * (remark.x ?? 0.5)}%`, top: `${100 * (remark.y ?? 0.5)}%` }}
                  title={remark.text}
                >
                  {n + 1}
                </span>
              ),
          )}
        </span>
        <span className={`${css.said} num`}>
          <span className={css.name}>
            {sheet.name}
            {number !== sheet.name.toLowerCase() && <small> {number}</small>}{" "}
          </span>
          <span data-missing={full < openings || undefined}>
            {!mark?.counts
              ? `${t("being counted")} `
              : openings
                ? `${t("{full} of {openings}", { full, openings })} `
                : `${t("no openings")} `}
          </span>
          <span>
            <span className={css.printed}>{describeFound(stops, looks)} </span>
            {mark?.counts && <Mark status={found} size={10} />}
          </span>
        </span>
      </button>
      {children}
    </li>
  );
}
