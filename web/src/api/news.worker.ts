/** One event stream for all tabs of this browser: a shared worker hears the server and tells every tab. */
const scope = self as unknown as { onconnect: (event: MessageEvent) => void };
const tabs = new Set<MessagePort>();
let last: { n: number; server: string } | undefined;

function tell(news: unknown) {
  for (const tab of tabs) tab.postMessage(news);
}

let source: EventSource;
const hear = (message: MessageEvent<string>) => {
  const news = JSON.parse(message.data) as { kind: string; n: number; server: string };
  // Another server, or something was missed: whatever is shown may be old.
  const missed = last && (last.server !== news.server || news.n > last.n + 1);
  if (news.kind === "hello" ? last && (missed || news.n !== last.n) : missed)
    tell({ kind: "missed", id: "" });
  else if (news.kind === "hello") tell({ kind: "back", id: "" });
  last = { n: news.n, server: news.server };
  if (news.kind !== "hello") tell(news);
};

function listen() {
  source = new EventSource("/api/events");
  source.onmessage = hear;
  source.onerror = () => {
    tell({ kind: "silent", id: "" });
    // Refused, as without the passphrase, a stream does not come back by itself.
    if (source.readyState === EventSource.CLOSED) setTimeout(listen, 2000);
  };
}
listen();

scope.onconnect = ({ ports: [tab] }) => {
  if (!tab) return;
  tabs.add(tab);
  tab.onmessage = ({ data }) => data === "bye" && tabs.delete(tab);
  tab.start();
};

export {};
