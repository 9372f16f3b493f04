import { Button, Select, TextInput } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "wouter";
import type { OrderState } from "../api/client";
import { when } from "../ui/when";
import { t } from "../words";
import { LookOver } from "./LookOver";
import { OrderRow } from "./OneOrder";
import css from "./orders.module.css";
import { useLab, useOrders } from "./useOrders";

const SHOWN = [
  { value: "all", label: t("all") },
  { value: "wants", label: t("needs action") },
  { value: "lab", label: t("at the lab") },
  { value: "sent", label: t("sent to the customer") },
];

const wants = (order: OrderState) => ["refused", "unsent", "unread"].includes(order.state);
const isDone = (order: OrderState) => ["sent", "cancelled"].includes(order.state);

/** By what is to be done with them. */
const GROUPS = [
  { label: t("Needs action"), has: wants },
  { label: t("At the lab"), has: (order: OrderState) => !wants(order) && !isDone(order) },
  { label: t("Done"), has: isDone },
];

type Sort = "made" | "job_name" | "customer" | "price";
const ORDER: Record<Sort, (one: OrderState, other: OrderState) => number> = {
  made: (one, other) => other.made.localeCompare(one.made),
  job_name: (one, other) => one.job_name.localeCompare(other.job_name),
  customer: (one, other) => one.to.name.localeCompare(other.to.name),
  price: (one, other) => (other.price ?? -1) - (one.price ?? -1),
};
const COLUMNS: { name?: Sort; label: string }[] = [
  { label: "" },
  { name: "job_name", label: t("Job") },
  { name: "customer", label: t("Customer") },
  { label: t("State") },
  { label: t("What") },
  { name: "made", label: t("Ordered") },
  { name: "price", label: t("Price") },
  { label: " " },
];

/** All orders, by when they were made: how each stands, what the lab refused and where; the same once more. */
export function Orders() {
  const orders = useOrders();
  const lab = useLab(true);
  const [shown, setShown] = useState("all");
  const [looking, setLooking] = useState(false);
  const [typed, setTyped] = useState("");
  const [sort, setSort] = useState<Sort>("made");
  useDocumentTitle(t("Orders, Sutaru"));
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const seen = (orders.data ?? []).filter((order) => {
    const text = [order.job_name, order.reference, order.to.name, order.to.place, when(order.made)]
      .join(" ")
      .toLowerCase();
    return (
      words.every((word) => text.includes(word)) &&
      (shown === "all" ||
        (shown === "wants" && wants(order)) ||
        (shown === "sent" && order.state === "sent") ||
        (shown === "lab" && !wants(order) && !isDone(order)))
    );
  });
  return (
    <main className={css.orders}>
      <header className={css.head}>
        <Link href="/">{t("Shelf")}</Link>
        <h1>{t("Orders")}</h1>
        <span className={css.note}>
          {lab.data &&
            (lab.data.reachable
              ? t("The lab answers at {address}.", { address: lab.data.address })
              : (lab.data.message ?? ""))}
        </span>
        <TextInput
          ml="auto"
          w={220}
          size="xs"
          aria-label={t("Find an order")}
          placeholder={t("Job, number, customer, date")}
          value={typed}
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <Button size="xs" variant="default" onClick={() => setLooking(true)}>
          {t("Check a print file…")}
        </Button>
        {looking && <LookOver onClose={() => setLooking(false)} />}
        <Select
          size="xs"
          aria-label={t("Which orders")}
          allowDeselect={false}
          value={shown}
          data={SHOWN}
          onChange={(value) => value && setShown(value)}
        />
      </header>
      {orders.data && seen.length === 0 && (
        <p className={css.note}>
          {orders.data.length
            ? t("No orders here.")
            : t("No orders yet. Order an export in dispatch, next to its files.")}
        </p>
      )}
      {seen.length > 0 && (
        <div className={css.heads}>
          {COLUMNS.map(({ name, label }) =>
            name ? (
              <button
                key={label}
                type="button"
                aria-pressed={sort === name}
                aria-label={t("Sort by {label}", { label: label.toLowerCase() })}
                onClick={() => setSort(name)}
              >
                {label}
              </button>
            ) : (
              <span key={label}>{label}</span>
            ),
          )}
        </div>
      )}
      {GROUPS.map(({ label, has }) => {
        const some = seen.filter(has).sort(ORDER[sort]);
        return (
          some.length > 0 && (
            <section key={label} className={css.group} aria-label={label}>
              <h2>
                {label} <span className="num">{some.length}</span>
              </h2>
              <ul>
                {some.map((order) => (
                  <li key={order.id}>
                    <OrderRow order={order} />
                  </li>
                ))}
              </ul>
            </section>
          )
        );
      })}
    </main>
  );
}
