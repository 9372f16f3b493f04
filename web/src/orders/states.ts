/** How an order stands, in words, and by its mark. */
import type { OrderState } from "../api/client";
import { t } from "../words";

export const SAID: Record<string, string> = {
  sending: t("on its way to the lab"),
  unsent: t("not sent"),
  refused: t("refused by the lab"),
  received: t("received by the lab"),
  checked: "checked",
  printing: "printing",
  cut: "cut",
  packed: "packed",
  sent: t("sent to the customer"),
  cancelled: "cancelled",
  open: t("begun at the lab, not submitted"),
  unread: t("could not be read by the lab"),
};

/** States in which an order can still be cancelled. */
export const mayCancel = (state: string) =>
  ["sending", "unsent", "open", "received", "checked"].includes(state);

export const markOf = (state: string): "order" | "stop" | "look" | "note" =>
  ["refused", "unread"].includes(state)
    ? "stop"
    : state === "unsent"
      ? "look"
      : ["sending", "cancelled", "open"].includes(state)
        ? "note"
        : "order";

/** States that change by themselves, so that they are asked for again. */
export const moving = (orders: OrderState[] | undefined): boolean =>
  orders?.some(({ state }) =>
    ["sending", "received", "checked", "printing", "cut", "packed"].includes(state),
  ) ?? false;
