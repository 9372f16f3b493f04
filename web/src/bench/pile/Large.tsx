import type { KeyboardEvent } from "react";
import type { Photo } from "../../api/client";
import { Dialog } from "../../ui/Dialog";
import { t } from "../../words";
import css from "./pile.module.css";
import { useSaying } from "./saying";

/** A photo as large as the window lets it be; arrows go on to the next. */
export function Large({
  photos,
  at,
  used,
  job,
  onTurn,
}: {
  photos: readonly Photo[];
  at: number;
  used: ReadonlyMap<string, readonly string[]>;
  job: string;
  onTurn: (photo: string | undefined) => void;
}) {
  const { says } = useSaying(job);
  const photo = photos[at];
  if (!photo) return null;
  const press = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (event.key === " ") onTurn(undefined);
    else if (by && photos[at + by]) onTurn(photos[at + by]?.id);
    else if (!says(photo, event.key, used.get(photo.id)?.length ?? 0)) return;
    // What is put aside, or back, leaves what is shown: the next one comes in its place.
    if (event.key.toLowerCase() === "a") onTurn((photos[at + 1] ?? photos[at - 1])?.id);
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Dialog
      onClose={() => onTurn(undefined)}
      size="auto"
      centered
      title={t("{name}, {width} × {height} px {stars}", {
        name: photo.name,
        width: photo.width,
        height: photo.height,
        stars: "★".repeat(photo.stars ?? 0),
      })}
      onKeyDown={press}
    >
      <img
        className={css.large}
        src={`/api/photos/${photo.checksum}/proxy`}
        alt={photo.name}
        style={{ aspectRatio: photo.width / photo.height }}
      />
      <p className={css.largeHint}>
        {t("{number} of {photos}. Arrows go on, 0 to 5 give stars, A puts aside, space closes.", {
          number: at + 1,
          photos: photos.length,
        })}
      </p>
    </Dialog>
  );
}
