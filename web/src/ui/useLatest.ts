/** Requests of which only the last counts: an earlier one is given up when a later one begins. */
import { useEffect, useState } from "react";

/** Gives the signal of the next request, or gives up the one under way. */
export interface Latest {
  next: () => AbortSignal;
  end: () => void;
}

export function keepLatest(): Latest {
  let under = new AbortController();
  const end = () => under.abort();
  const next = () => {
    end();
    under = new AbortController();
    return under.signal;
  };
  return { next, end };
}

/** The same for one screen or dialog: what is under way is given up as it goes. */
export function useLatest(): () => AbortSignal {
  const [latest] = useState(keepLatest);
  useEffect(() => latest.end, [latest]);
  return latest.next;
}
