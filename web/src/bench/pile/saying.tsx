import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import type { Photo } from "../../api/client";
import { useChange } from "../../editing/changes";
import { t, tn } from "../../words";
import css from "./pile.module.css";

/** What a person says of a photo in the pile: stars, put aside, taken out. What reaches an opening is told, with a way back. */
export function useSaying(job: string) {
  const { edit, undo } = useChange({ id: job });

  const tell = (photo: Photo, sentence: string) => {
    const id = `said-${photo.id}`;
    notifications.hide(id);
    notifications.show({
      id,
      autoClose: 9000,
      message: (
        <span className={css.told}>
          {sentence}
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              undo();
              notifications.hide(id);
            }}
          >
            {t("Undo")}
          </Button>
        </span>
      ),
    });
  };

  const putAside = (photo: Photo, places: number) => {
    edit({ op: "put_aside", photos: [photo.id], aside: !photo.aside });
    if (places && !photo.aside)
      tell(
        photo,
        tn(
          places,
          "{name} is set aside. It stays in {n} place.",
          "{name} is set aside. It stays in {n} places.",
          { name: photo.name },
        ),
      );
  };

  const takeOut = (photo: Photo, places: number) => {
    edit({ op: "take_out", photos: [photo.id] });
    if (places)
      tell(
        photo,
        tn(
          places,
          "{name} was removed from the pile and from {n} place.",
          "{name} was removed from the pile and from {n} places.",
          { name: photo.name },
        ),
      );
  };

  /** What a key says of a photo; false when it says nothing. */
  const says = (photo: Photo, key: string, places: number): boolean => {
    if (/^[0-5]$/.test(key)) edit({ op: "star", photos: [photo.id], stars: Number(key) });
    else if (key.toLowerCase() === "a") putAside(photo, places);
    else return false;
    return true;
  };
  return { says, takeOut };
}
