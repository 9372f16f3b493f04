import { useEffect } from "react";

let open = 0;

/** What lies behind a dialog is out of reach of everybody, readers of the screen too, as long as one is open. */
export function useBehind() {
  useEffect(() => {
    const behind = document.getElementById("root");
    open += 1;
    if (behind) behind.inert = true;
    return () => {
      open -= 1;
      if (behind && !open) behind.inert = false;
    };
  }, []);
}
