import { Modal, type ModalProps } from "@mantine/core";
import { useEffect, useState } from "react";

/** A dialog. When it goes, the focus is where it was before it came. */
export function Dialog(props: ModalProps) {
  useFocusBack();
  return <Modal closeButtonProps={{ "aria-label": "Close" }} {...props} />;
}

/** What had the focus; of a menu, which is gone by then, what opened it. */
function focused(): Element | null {
  const now = document.activeElement;
  const opener = now?.closest("[role=menu]")?.getAttribute("aria-labelledby");
  return opener ? document.getElementById(opener) : now;
}

/** Gives the focus back as the component goes, unless something else has taken it. */
function useFocusBack() {
  const [before] = useState(focused);
  useEffect(
    () => () => {
      setTimeout(() => {
        const nowhere = !document.activeElement || document.activeElement === document.body;
        if (nowhere && before instanceof HTMLElement && before.isConnected)
          before.focus({ preventScroll: true });
      });
    },
    [before],
  );
}
