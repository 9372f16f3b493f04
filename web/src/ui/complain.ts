/** Says what went wrong, in its own sentence. */
import { notifications } from "@mantine/notifications";
import { Locked } from "../api/client";
import { t } from "../words";

/** Whether what failed was given up by this screen itself, as a later request took its place. */
const isAborted = (error: unknown) => error instanceof DOMException && error.name === "AbortError";

export function complain(error: unknown) {
  if (error instanceof Locked || isAborted(error)) return;
  const message = error instanceof Error ? error.message : String(error);
  // The same sentence twice says no more than once.
  notifications.show({
    id: message,
    color: "red",
    message,
    autoClose: 7000,
    closeButtonProps: { "aria-label": t("Close") },
  });
}

/** Says what is no trouble. */
export function say(message: string) {
  notifications.show({
    id: message,
    message,
    autoClose: 5000,
    closeButtonProps: { "aria-label": t("Close") },
  });
}
