import IconX from "@tabler/icons-react/icons/IconX";
import type { MouseEvent } from "react";
import { type Photo, thumb } from "../../api/client";
import { PHOTO_TYPE } from "../../editing/sheets";
import { useBench } from "../../editing/store";
import type { Action } from "../../ui/actions";
import { bytes, plural } from "../../ui/format";
import { openMenuAt } from "../../ui/menuAt";
import { picked } from "./hand";
import css from "./pile.module.css";
import { useSaying } from "./saying";

/** A photo in the pile, small: taken in hand, carried to an opening, and what is said of it by keys. */
export function Print({
  photo,
  numbers,
  job,
  pile,
  named,
  onLarge,
}: {
  photo: Photo;
  numbers: string[];
  job: string;
  pile: readonly string[];
  named: boolean;
  onLarge: () => void;
}) {
  const hand = useBench((bench) => bench.hand);
  const set = useBench((bench) => bench.set);
  const { says, takeOut } = useSaying(job);
  const place = hand?.kind === "photos" ? hand.photos.indexOf(photo.id) : -1;
  const inHand = place >= 0;
  const take = (event: MouseEvent) =>
    set({
      hand: picked(pile, hand, photo.id, { range: event.shiftKey, add: event.ctrlKey || event.metaKey }),
      selected: undefined,
    });
  const actions = (): Action[] => [
    { label: "Show large", keys: "Space", run: onLarge },
    {
      label: inHand ? "Cancel placing" : "Pick up, to place",
      run: () =>
        set({ hand: inHand ? undefined : { kind: "photos", photos: [photo.id] }, selected: undefined }),
    },
    ...[0, 1, 2, 3, 4, 5].map((stars) => ({
      label: stars ? plural(stars, "star") : "No stars",
      keys: String(stars),
      starts: stars === 0,
      isOff: (photo.stars ?? 0) === stars,
      run: () => says(photo, String(stars), numbers.length),
    })),
    {
      label: photo.aside ? "Back into the pile" : "Set aside",
      keys: "A",
      starts: true,
      run: () => says(photo, "a", numbers.length),
    },
    { label: "Remove from the pile", keys: "Delete", run: () => takeOut(photo, numbers.length) },
  ];
  const here = numbers.filter((number) => !number.startsWith("p"));
  const others = numbers.length - here.length;
  const where = `${here.length ? `, in opening ${here.join(", ")}` : ""}${others ? `, on ${plural(others, "other sheet")}` : ""}`;
  // What is seen of it is part of its name.
  const lies = numbers.length > 3 ? `${numbers.length} ×` : numbers.join(", ");
  return (
    <>
      <button
        type="button"
        className={css.print}
        data-hand={inHand || undefined}
        data-used={numbers.length ? "" : undefined}
        aria-pressed={inHand}
        aria-label={`${photo.name}, ${photo.width} by ${photo.height} px${where}${lies ? ` ${lies}` : ""}${photo.sample ? " sample" : ""}${photo.already_worked ? ", already edited" : ""}${photo.stars ? `, ${plural(photo.stars, "star")}` : ""}${photo.aside ? ", put aside" : ""}`}
        title={`${photo.name}\n${photo.width} × ${photo.height} px, ${bytes(photo.size_bytes)}${photo.sample ? "\nsample photo" : ""}\nSpace: large. 0 to 5: stars. A: put aside.`}
        draggable
        onDragStart={(event) => {
          // All that the hand holds comes along when this one is of it.
          const carried = inHand && hand?.kind === "photos" ? hand.photos : [photo.id];
          event.dataTransfer.setData(PHOTO_TYPE, carried.join(" "));
          event.dataTransfer.effectAllowed = "copy";
        }}
        onClick={take}
        onKeyDown={(event) => {
          if (event.key === "Delete") takeOut(photo, numbers.length);
          else if (event.key === " ") onLarge();
          else if (!says(photo, event.key, numbers.length)) return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onDoubleClick={onLarge}
        onContextMenu={(event) => openMenuAt(event, photo.name, actions())}
        data-aside={photo.aside || undefined}
      >
        <img src={thumb(photo)} alt="" draggable={false} />
        {numbers.length > 0 && <span className={`${css.number} num`}>{lies}</span>}
        {photo.already_worked && <span className={css.worked} />}
        {photo.sample && <span className={css.sample}> sample</span>}
        {(photo.stars ?? 0) > 0 && <span className={css.stars} data-stars={"★".repeat(photo.stars ?? 0)} />}
        {named && <span className={css.name}>{photo.name}</span>}
        {hand?.kind === "photos" && hand.photos.length > 1 && inHand && (
          <span className={`${css.place} num`} title="Order picked up">
            {place + 1}
          </span>
        )}
      </button>
      <button
        type="button"
        className={css.out}
        aria-label={`Remove ${photo.name} from the pile`}
        title="Remove from the pile"
        onClick={() => takeOut(photo, numbers.length)}
      >
        <IconX size={12} />
      </button>
    </>
  );
}
