/** What is typed or pulled and not sent yet: sent before any other change, so that changes keep their order. */
const waiting = new Set<() => void>();
let flushing = false;

/** Says that something waits to be sent by `send`; what comes back says that it does not any more. */
export function waits(send: () => void): () => void {
  waiting.add(send);
  return () => waiting.delete(send);
}

/** Sends all that waits. What is sent thereby does not flush again. */
export function flush() {
  if (flushing) return;
  flushing = true;
  try {
    for (const send of [...waiting]) {
      waiting.delete(send);
      send();
    }
  } finally {
    flushing = false;
  }
}
