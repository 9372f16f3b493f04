import { usePending } from "../api/pending";
import { useKnownJob } from "../editing/useJob";
import { t, tn } from "../words";
import css from "./bench.module.css";

/** Whether all that was done is stored; and when it is not, why it waits. */
export function Kept({ job }: { job: string }) {
  const store = useKnownJob(job);
  const isStored = !usePending();
  const waiting = store.waiting
    ? ` ${tn(store.waiting, "{n} change waits here and will be sent.", "{n} changes wait here and will be sent.")}`
    : "";
  return (
    <small
      className={css.kept}
      role="status"
      data-kept={isStored}
      data-lost={store.lost ? "" : undefined}
      title={t("Every change is saved at once")}
    >
      {store.lost ? `${store.lost}${waiting}` : isStored ? t("Saved") : t("Saving…")}
    </small>
  );
}
