import IconX from "@tabler/icons-react/icons/IconX";
import type { MouseEvent } from "react";
import { type Photo, thumb } from "../../api/client";
import { PHOTO_TYPE } from "../../editing/sheets";
import { useBench } from "../../editing/store";
import type { Action } from "../../ui/actions";
import { bytes } from "../../ui/format";
import { openMenuAt } from "../../ui/menuAt";
import { t, tn } from "../../words";
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
    { label: t("Show large"), keys: "Space", run: onLarge },
    {
      label: inHand ? t("Cancel placing") : t("Pick up, to place"),
      run: () =>
        set({ hand: inHand ? undefined : { kind: "photos", photos: [photo.id] }, selected: undefined }),
    },
    ...[0, 1, 2, 3, 4, 5].map((stars) => ({
      label: stars ? tn(stars, "{n} star", "{n} stars") : t("No stars"),
      keys: String(stars),
      starts: stars === 0,
      isOff: (photo.stars ?? 0) === stars,
      run: () => says(photo, String(stars), numbers.length),
    })),
    {
      label: photo.aside ? t("Back into the pile") : t("Set aside"),
      keys: "A",
      starts: true,
      run: () => says(photo, "a", numbers.length),
    },
    { label: t("Remove from the pile"), keys: "Delete", run: () => takeOut(photo, numbers.length) },
  ];
  const here = numbers.filter((number) => !number.startsWith("p"));
  const others = numbers.length - here.length;
  const where = [
    here.length > 0 && t("in opening {here}", { here: here.join(", ") }),
    others && tn(others, "on {n} other sheet", "on {n} other sheets"),
  ];
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
        aria-label={[
          t("{name}, {width} by {height} px", photo),
          ...where,
          [lies, photo.sample && t("sample")].filter(Boolean).join(" "),
          photo.already_worked && t("already edited"),
          photo.stars && tn(photo.stars, "{n} star", "{n} stars"),
          photo.aside && t("put aside"),
        ]
          .filter(Boolean)
          .join(", ")}
        title={[
          photo.name,
          `${photo.width} × ${photo.height} px, ${bytes(photo.size_bytes)}`,
          photo.sample && t("sample photo"),
          t("Space: large. 0 to 5: stars. A: put aside."),
        ]
          .filter(Boolean)
          .join("\n")}
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
        {photo.sample && <span className={css.sample}> {t("sample")}</span>}
        {(photo.stars ?? 0) > 0 && <span className={css.stars} data-stars={"★".repeat(photo.stars ?? 0)} />}
        {named && <span className={css.name}>{photo.name}</span>}
        {hand?.kind === "photos" && hand.photos.length > 1 && inHand && (
          <span className={`${css.place} num`} title={t("Order picked up")}>
            {place + 1}
          </span>
        )}
      </button>
      <button
        type="button"
        className={css.out}
        aria-label={t("Remove {name} from the pile", { name: photo.name })}
        title={t("Remove from the pile")}
        onClick={() => takeOut(photo, numbers.length)}
      >
        <IconX size={12} />
      </button>
    </>
  );
}
