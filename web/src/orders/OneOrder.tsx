import { Button } from "@mantine/core";
import { useState } from "react";
import { Link } from "wouter";
import { coverPicture, type OrderState } from "../api/client";
import { jobAddress } from "../editing/addresses";
import { money } from "../ui/format";
import { Mark } from "../ui/Mark";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { when } from "../ui/when";
import { t, tn } from "../words";
import css from "./orders.module.css";
import { markOf, mayCancel, SAID } from "./states";
import { useOrdering } from "./useOrders";

const copiesOf = (order: OrderState) => order.lines.reduce((sum, line) => sum + (line.copies ?? 1), 0);

/** How many, on what. */
function what(order: OrderState) {
  const [first] = order.lines;
  return [
    order.lines.length > 1
      ? tn(copiesOf(order), "{n} copy in {lines} lines", "{n} copies in {lines} lines", {
          lines: order.lines.length,
        })
      : tn(copiesOf(order), "{n} copy", "{n} copies"),
    first?.paper && t("on {paper}", { paper: first.paper }),
    first?.finish,
    first?.cover && t("cover {cover}", { cover: first.cover }),
    order.lines.some((line) => line.to) &&
      tn(
        order.lines.filter((line) => line.to).length,
        "{n} line to an address of its own",
        "{n} lines to an address of its own",
      ),
  ]
    .filter(Boolean)
    .join(", ");
}

/** How an order stands, with its mark. */
function Standing({ order }: { order: OrderState }) {
  const [at = 0, of = 1] = order.progress ?? [];
  return (
    <span className="num">
      <Mark status={markOf(order.state)} /> <strong>{SAID[order.state] ?? order.state}</strong>
      {order.progress && `, ${Math.round((100 * at) / Math.max(1, of))} %`}
    </span>
  );
}

/** What stands in the way of an order, each reason with the way to where it is mended. */
function Reasons({ order }: { order: OrderState }) {
  return (
    <>
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
                {[reason.line, reason.page].filter(Boolean).join(", ") || t("The order")}
              </Link>
              : {reason.reason}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** An order in dispatch, beside its files. */
export function OneOrder({ order }: { order: OrderState }) {
  return (
    <article
      className={css.order}
      aria-label={t("Order {reference}", { reference: order.reference })}
      data-state={order.state}
    >
      <p className="num">
        <Standing order={order} />{" "}
        <span>
          {when(order.made)}
          {order.price !== null && `, ${money(order.price, order.currency)}`}
        </span>
      </p>
      <Reasons order={order} />
      <Actions order={order} />
    </article>
  );
}

/** An order in the table: picture, whose, what, how it stands, when, price, what can be done. */
export function OrderRow({ order }: { order: OrderState }) {
  return (
    <article
      className={css.row}
      aria-label={t("Order {reference}", { reference: order.reference })}
      data-state={order.state}
    >
      <span className={css.picture}>
        {order.picture && (
          <PictureWhenSeen src={coverPicture({ id: order.job, picture: order.picture }, 120)} alt="" />
        )}
      </span>
      <span className={css.whose}>
        <Link href={`/jobs/${order.job}/dispatch`}>{order.job_name}</Link>
        <small>{order.reference}</small>
      </span>
      <span className={css.whose}>
        {order.to.name}
        <small>{order.to.place}</small>
      </span>
      <span>
        <Standing order={order} />
      </span>
      <span>
        {what(order)}
        {order.again_of && <small>{t("a reorder")}</small>}
        {order.changed_since && <small>{t("The job was changed since: these are the files of then.")}</small>}
      </span>
      <time dateTime={order.made} className="num">
        {when(order.made)}
      </time>
      <span className={`${css.price} num`}>{order.price !== null && money(order.price, order.currency)}</span>
      <Actions order={order} />
      {(order.message || order.reasons.length > 0) && (
        <div className={css.trouble}>
          <Reasons order={order} />
        </div>
      )}
    </article>
  );
}

/** What can be done with an order as it stands. */
function Actions({ order }: { order: OrderState }) {
  const { send, again, cancel } = useOrdering();
  // One press is one order, however often it arrives.
  const [token, setToken] = useState(() => crypto.randomUUID());
  const [asking, setAsking] = useState(false);
  return (
    <div className={css.does}>
      {order.state === "unsent" && (
        <Button
          size="compact-xs"
          variant="default"
          loading={send.isPending}
          onClick={() => send.mutate(order.id)}
        >
          {t("Send again")}
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
          {t("Reorder")}
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
              {t("Cancel this order")}
            </Button>
            <Button size="compact-xs" variant="subtle" onClick={() => setAsking(false)}>
              {t("Keep order")}
            </Button>
          </>
        ) : (
          <Button size="compact-xs" variant="subtle" onClick={() => setAsking(true)}>
            {t("Cancel order…")}
          </Button>
        ))}
    </div>
  );
}
