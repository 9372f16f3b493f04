import { Button, Progress } from "@mantine/core";
import { useChange } from "../../editing/changes";
import type { View } from "../../editing/view";
import { Mark } from "../../ui/Mark";
import { t, tn } from "../../words";
import { stopImport, useQueue } from "./importing";
import css from "./pile.module.css";

/** Progress of an import, and one sentence for each file that was refused. */
export function Incoming({ state }: { state: View }) {
  const { edit } = useChange(state);
  const { files, clear } = useQueue();
  if (files.length === 0) return null;
  const ended = files.filter((file) => !["waiting", "sending"].includes(file.state)).length;
  const refused = files.filter((file) => file.state === "refused");
  const came = new Set(files.flatMap(({ state: how, photo }) => (how === "done" && photo ? [photo] : [])));
  const back = files.flatMap((file) => {
    if (file.state !== "done" || !file.photo) return [];
    // One that is called alike, and was taken then, lay in the pile before: the same photo, mended elsewhere. Two that come in
    // together are two photos, whatever they are called.
    const photo = state.photo.get(file.photo);
    const old = state.photos.find(
      ({ id, name, aside, taken }) =>
        name === photo?.name && !came.has(id) && !aside && (!taken || !photo?.taken || taken === photo.taken),
    );
    return old ? [{ old: old.id, new: file.photo }] : [];
  });
  const known = files.filter((file) => file.state === "known").length;
  const total = files.reduce((sum, file) => sum + Math.max(1, file.size), 0);
  const done = files.reduce(
    (sum, file) =>
      sum + (["waiting", "sending"].includes(file.state) ? file.sent * 0.8 : Math.max(1, file.size)),
    0,
  );
  const busy = ended < files.length;
  const sending = files.find((file) => file.state === "sending");
  return (
    <div className={css.incoming} role="status">
      {busy ? (
        <>
          <span className="num">{t("{ended} of {files} in", { ended, files: files.length })}</span>
          <Progress value={(100 * done) / total} w={130} aria-label={t("Photos coming in")} />
          <span className={css.file}>{sending?.name}</span>
          <Button size="compact-xs" variant="default" onClick={stopImport}>
            {t("Stop")}
          </Button>
        </>
      ) : (
        <>
          <span className="num">
            {tn(
              files.filter((file) => file.state === "done").length,
              "{n} photo brought in",
              "{n} photos brought in",
            )}
            {known ? `, ${t("{known} already in the pile", { known })}` : ""}
          </span>
          {back.length > 0 && (
            <Button
              size="compact-xs"
              variant="filled"
              onClick={() => {
                edit({ op: "replace_photos", photos: back });
                clear();
              }}
            >
              {back.length === 1
                ? t("It came back: put it in its places")
                : t("{back} came back: put them in their places", { back: back.length })}
            </Button>
          )}
          <Button size="compact-xs" variant="default" onClick={clear}>
            {t("Close")}
          </Button>
        </>
      )}
      {refused.length > 0 && (
        <ul className={css.refused}>
          {refused.map((file) => (
            <li key={file.key}>
              <Mark status="look" /> {file.sentence}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
