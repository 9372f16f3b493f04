import { Button, Select, TextInput } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "wouter";
import type { OrderState } from "../api/client";
import { jobAddress } from "../editing/addresses";
import { fixed, plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import { when } from "../ui/when";
import { LookOver } from "./LookOver";
import css from "./orders.module.css";
import { markOf, mayCancel, SAID } from "./states";
import { useLab, useOrdering, useOrders } from "./useOrders";

const SHOWN = [
  { value: "all", label: "all" },
  { value: "wants", label: "those that want something" },
  { value: "lab", label: "at the lab" },
  { value: "sent", label: "sent to the customer" },
];

/** All orders, by when they were made: how each stands, what the lab refused and where; the same once more. */
export function Orders() {
  const orders = useOrders();
  const lab = useLab(true);
  const [shown, setShown] = useState("all");
  const [looking, setLooking] = useState(false);
  const [typed, setTyped] = useState("");
  useDocumentTitle("Orders, Sutaru");
  const wants = (order: OrderState) => ["refused", "unsent", "unread"].includes(order.state);
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const seen = (orders.data ?? []).filter((order) => {
    const said = [order.job_name, order.reference, order.to.name, order.to.place, when(order.made)]
      .join(" ")
      .toLowerCase();
    return (
      words.every((word) => said.includes(word)) &&
      (shown === "all" ||
        (shown === "wants" && wants(order)) ||
        (shown === "sent" && order.state === "sent") ||
        (shown === "lab" && !wants(order) && !["sent", "cancelled"].includes(order.state)))
    );
  });
  return (
    <main className={css.orders}>
      <header className={css.head}>
        <Link href="/">Shelf</Link>
        <h1>Orders</h1>
        <span className={css.note}>
          {lab.data &&
            (lab.data.reachable ? `The lab answers at ${lab.data.address}.` : (lab.data.message ?? ""))}
        </span>
        <TextInput
          ml="auto"
          w={220}
          size="xs"
          aria-label="Find an order"
          placeholder="Job, number, customer, date"
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <Button size="xs" variant="default" onClick={() => setLooking(true)}>
          Look a print file over…
        </Button>
        {looking && <LookOver onClose={() => setLooking(false)} />}
        <Select
          size="xs"
          aria-label="Which orders"
          allowDeselect={false}
          value={shown}
          data={SHOWN}
          onChange={(value) => value && setShown(value)}
        />
      </header>
      {orders.data && seen.length === 0 && (
        <p className={css.note}>
          {orders.data.length
            ? "None of these."
            : "None yet. What dispatch has exported can be ordered there, next to each export."}
        </p>
      )}
      <ul className={css.list}>
        {seen.map((order) => (
          <li key={order.id}>
            <OneOrder order={order} />
          </li>
        ))}
      </ul>
    </main>
  );
}

/** One order, and what can be done with it. */
export function OneOrder({ order, short }: { order: OrderState; short?: boolean }) {
  const { send, again, cancel } = useOrdering();
  // One press is one order, however often it arrives.
  const [token, setToken] = useState(() => crypto.randomUUID());
  const [asking, setAsking] = useState(false);
  const copies = order.lines.reduce((sum, line) => sum + (line.copies ?? 1), 0);
  const [at = 0, of = 1] = order.progress ?? [];
  return (
    <article className={css.order} aria-label={`Order ${order.reference}`} data-state={order.state}>
      <p className="num">
        <Mark status={markOf(order.state)} /> <strong>{SAID[order.state] ?? order.state}</strong>
        {order.progress && `, ${Math.round((100 * at) / Math.max(1, of))} %`}
        <span>
          {" "}
          {when(order.made)}
          {order.price !== null && `, ${fixed(order.price, 2)}`}
        </span>
      </p>
      {!short && (
        <p>
          <Link href={`/jobs/${order.job}/dispatch`}>{order.job_name}</Link>, {order.reference}:{" "}
          {plural(copies, "copy").replace("copys", "copies")}
          {order.lines.length > 1 && ` in ${order.lines.length} lines`} to{" "}
          {[order.to.name, order.to.place].filter(Boolean).join(", ")}
          {order.lines[0]?.paper && `, on ${order.lines[0].paper}`}
          {order.lines[0]?.finish && `, ${order.lines[0].finish}`}
          {order.lines[0]?.cover && `, cover ${order.lines[0].cover}`}
          {order.lines.some((line) => line.to) &&
            `, ${plural(order.lines.filter((line) => line.to).length, "line")} to an address of its own`}
          {order.again_of && ", a reorder"}
          {order.changed_since && ". The job was changed since: these are the files of then"}
        </p>
      )}
      {order.message && <p>{order.message}</p>}
      {order.reasons.length > 0 && (
        <ul className={css.reasons}>
          {order.reasons.map((reason) => (
            <li key={`${reason.line} ${reason.file} ${reason.reason}`}>
              <Mark status="stop" size={10} />{" "}
              <Link
                href={jobAddress(order.job, {
                  sheet: reason.sheet,
                  edition: reason.edition,
                  panel: "findings",
                })}
              >
                {[reason.line, reason.page].filter(Boolean).join(", ") || "The order"}
              </Link>
              : {reason.reason}
            </li>
          ))}
        </ul>
      )}
      <div className={css.does}>
        {order.state === "unsent" && (
          <Button
            size="compact-xs"
            variant="default"
            loading={send.isPending}
            onClick={() => send.mutate(order.id)}
          >
            Send again
          </Button>
        )}
        {!["sending", "unsent", "refused", "open", "unread"].includes(order.state) && (
          <Button
            size="compact-xs"
            variant="default"
            loading={again.isPending}
            onClick={() =>
              again.mutate({ id: order.id, token }, { onSuccess: () => setToken(crypto.randomUUID()) })
            }
          >
            Reorder
          </Button>
        )}
        {mayCancel(order.state) &&
          (asking ? (
            <>
              <Button
                size="compact-xs"
                loading={cancel.isPending}
                onClick={() => cancel.mutate(order.id, { onSettled: () => setAsking(false) })}
              >
                Cancel this order
              </Button>
              <Button size="compact-xs" variant="subtle" onClick={() => setAsking(false)}>
                Keep it
              </Button>
            </>
          ) : (
            <Button size="compact-xs" variant="subtle" onClick={() => setAsking(true)}>
              Cancel order…
            </Button>
          ))}
        {!short && order.state !== "sending" && (
          <Link href={`/jobs/${order.job}/dispatch`}>
            {order.changed_since ? "Made anew, as the job is now" : "To its exports"}
          </Link>
        )}
      </div>
    </article>
  );
}
