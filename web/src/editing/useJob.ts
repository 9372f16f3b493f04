/** Jobs as screens follow them. */
import { useEffect, useSyncExternalStore } from "react";
import { flush } from "./flushing";
import { type JobStore, jobStore } from "./jobs";

/** A job as it is known here, for a part of a screen that follows it. */
export function useKnownJob(id: string): JobStore {
  const store = jobStore(id);
  useSyncExternalStore(store.subscribe, store.snapshot);
  return store;
}

/** A job, followed while the screen is there: the server is asked where it stands. */
export function useJobStore(id: string, edition = ""): JobStore {
  const store = useKnownJob(id);
  useEffect(() => {
    if (store.head && edition === store.edition) store.load();
    else store.turnTo(edition);
  }, [store, edition]);
  // What a screen still held is sent as it is left, so that the next one knows of it.
  useEffect(() => flush, []);
  return store;
}
