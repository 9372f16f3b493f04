import { usePending } from "../api/pending";
import { useKnownJob } from "../editing/useJob";
import css from "./bench.module.css";

/** Whether all that was done is stored; and when it is not, why it waits. */
export function Kept({ job }: { job: string }) {
  const store = useKnownJob(job);
  const isStored = !usePending();
  const waiting = store.waiting
    ? ` ${store.waiting} ${store.waiting === 1 ? "change waits" : "changes wait"} here and will be sent.`
    : "";
  return (
    <small
      className={css.kept}
      role="status"
      data-kept={isStored}
      data-lost={store.lost ? "" : undefined}
      title="Every change is saved at once"
    >
      {store.lost ? `${store.lost}${waiting}` : isStored ? "Saved" : "Saving…"}
    </small>
  );
}
