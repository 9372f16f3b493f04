/** Requests of which only the last counts: an earlier one is given up when a later one begins, and all when the screen goes. */
import { useCallback, useEffect, useRef } from "react";

/** Gives the signal of the next request. */
export function useLatest(): () => AbortSignal {
  const under = useRef<AbortController>(undefined);
  useEffect(() => () => under.current?.abort(), []);
  return useCallback(() => {
    under.current?.abort();
    under.current = new AbortController();
    return under.current.signal;
  }, []);
}
