import { thumb } from "../api/client";
import { useNumbers } from "../editing/layouts";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./plan.module.css";

/** A photo that is carried from sheet to sheet. */
export interface Carried {
  sheet: string;
  opening: string;
  photo: string;
}

export const CARRIED_PHOTO = "application/x-sutaru-placed";

/** The photos that lie on a sheet, small, to be carried to others: by pulling, or from one to another by clicks and keys. */
export function PhotoRow({
  state,
  sheet,
  placed,
  hand,
  onTake,
  onMeet,
}: {
  state: View;
  sheet: string;
  placed: [string, string][];
  hand: Carried | undefined;
  onTake: (taken: Carried | undefined) => void;
  /** What is carried is let go on another photo. */
  onMeet: (carried: Carried, onto: Carried) => void;
}) {
  const numbers = useNumbers(state.sheets.find((one) => one.id === sheet)?.layout);
  const ordered = placed.toSorted(([a], [b]) => (numbers.get(a) ?? 0) - (numbers.get(b) ?? 0));
  return (
    <div className={css.photos}>
      {ordered.map(([opening, id]) => {
        const photo = state.photo.get(id);
        if (!photo) return null;
        const here = { sheet, opening, photo: id };
        const mine = hand?.sheet === sheet && hand.opening === opening;
        return (
          <button
            key={opening}
            type="button"
            draggable
            aria-pressed={mine}
            aria-label={
              hand && !mine
                ? t("Exchange with {name}", { name: photo.name })
                : t("Take {name}", { name: photo.name })
            }
            title={photo.name}
            onClick={(event) => {
              event.stopPropagation();
              if (hand && !mine) onMeet(hand, here);
              else onTake(mine ? undefined : here);
            }}
            onDragStart={(event) => {
              event.stopPropagation();
              event.dataTransfer.setData(CARRIED_PHOTO, JSON.stringify(here));
              event.dataTransfer.effectAllowed = "move";
            }}
            onDragOver={(event) => {
              if (event.dataTransfer.types.includes(CARRIED_PHOTO)) {
                event.preventDefault();
                event.stopPropagation();
              }
            }}
            onDrop={(event) => {
              const photoId = event.dataTransfer.getData(CARRIED_PHOTO);
              if (!photoId) return;
              event.preventDefault();
              event.stopPropagation();
              onMeet(JSON.parse(photoId) as Carried, here);
            }}
          >
            <img src={thumb(photo)} alt="" draggable={false} loading="lazy" />
          </button>
        );
      })}
    </div>
  );
}
