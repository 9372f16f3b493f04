import { useWindowEvent } from "@mantine/hooks";

const CAPTURE = { capture: true };

/** While something is under way, Escape ends it before the key means anything to the screen, wherever the focus is. */
export const useEscape = (isUnderWay: boolean, end: () => void) =>
  useWindowEvent(
    "keydown",
    (event) => {
      if (!isUnderWay || event.key !== "Escape") return;
      event.preventDefault();
      event.stopPropagation();
      end();
    },
    CAPTURE,
  );
