/** News of the server, for whoever listens: what has changed, that it is silent, that it is back, that some was missed. */
export interface News {
  kind:
    | "job"
    | "found"
    | "measured"
    | "task"
    | "shelf"
    | "templates"
    | "order"
    | "proof"
    | "watched"
    | "card"
    | "history"
    | "missed"
    | "back"
    | "silent";
  id: string;
  seq?: number;
  ids?: string[];
  task?: string;
}
type Listener = (news: News) => void;
const listeners = new Set<Listener>();

/** Listens until what comes back is called. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Hands news to all listeners. */
export function tell(news: News) {
  for (const listener of listeners) listener(news);
}

/** Begins to hear the server, once for the tab. */
export function hear() {
  const worker = new SharedWorker(new URL("./news.worker.ts", import.meta.url), {
    type: "module",
    name: "sutaru-news",
  });
  worker.port.onmessage = ({ data }) => tell(data as News);
  worker.port.start();
  addEventListener("pagehide", () => worker.port.postMessage("bye"));
  window.addEventListener("pageshow", (event) => event.persisted && tell({ kind: "missed", id: "" }));
}
