import IconEye from "@tabler/icons-react/icons/IconEye";
import IconEyeOff from "@tabler/icons-react/icons/IconEyeOff";
import IconLock from "@tabler/icons-react/icons/IconLock";
import IconLockOpen from "@tabler/icons-react/icons/IconLockOpen";
import { type CSSProperties, type MouseEvent, memo } from "react";
import { t } from "../words";
import css from "./workshop.module.css";

/** What a row of the list of layers shows, in values that are compared by what they say: a sheet may have hundreds. */
export interface RowValues {
  id: string;
  name: string;
  /** What kind of thing it is, where its name does not say so. */
  kind: string;
  depth: number;
  isSelected: boolean;
  isHidden: boolean;
  isLocked: boolean;
  isOver: boolean;
  /** Where its small picture lies in the sheet's: width, height, left, top, and the whole sheet's width and height, px. */
  crop: string;
}

export interface RowActions {
  select: (id: string, event: MouseEvent) => void;
  point: (id: string) => void;
  lock: (id: string, isLocked: boolean) => void;
  show: (id: string, isShown: boolean) => void;
}

/** One layer in the list: its small picture, its name, whether its place is locked and whether it is shown. */
export const StackRow = memo(function StackRow({ on, ...row }: RowValues & { on: RowActions }) {
  const { id, name } = row;
  const [wide, high, left, top, sheetWide, sheetHigh] = row.crop.split(" ").map((length) => `${length}px`);
  const small: CSSProperties = {
    width: wide,
    height: high,
    backgroundPosition: `-${left} -${top}`,
    backgroundSize: `${sheetWide} ${sheetHigh}`,
  };
  const [Lock, Eye] = [row.isLocked ? IconLock : IconLockOpen, row.isHidden ? IconEyeOff : IconEye];
  return (
    <li
      data-row={id}
      data-selected={row.isSelected || undefined}
      data-hidden={row.isHidden || undefined}
      data-over={row.isOver || undefined}
      style={{ paddingLeft: 6 + row.depth * 14 }}
      draggable
    >
      <span className={css.small} aria-hidden="true">
        <span style={small} />
      </span>
      <button
        type="button"
        className={css.rowName}
        aria-pressed={row.isSelected}
        onFocus={() => on.point(id)}
        onClick={(event) => on.select(id, event)}
      >
        {name}
        <small>{row.kind}</small>
      </button>
      <button
        type="button"
        className={css.rowSwitch}
        title={row.isLocked ? t("Position locked") : t("Lock position")}
        aria-label={t("Place of {name} locked", { name })}
        aria-pressed={row.isLocked}
        onClick={() => on.lock(id, !row.isLocked)}
      >
        <Lock size={14} className={row.isLocked ? undefined : css.faint} />
      </button>
      <button
        type="button"
        className={css.rowSwitch}
        title={row.isHidden ? t("Show") : t("Hide")}
        aria-label={t("{name} shown", { name })}
        aria-pressed={!row.isHidden}
        onClick={() => on.show(id, row.isHidden)}
      >
        <Eye size={14} className={row.isHidden ? undefined : css.faint} />
      </button>
    </li>
  );
});
