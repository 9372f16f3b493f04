import { Button } from "@mantine/core";
import type { LabSays, NewOrder } from "../api/client";
import { approvalOf, useProofLinks } from "../remarks/proofLinks";
import { Answer } from "../ui/Answer";
import { money } from "../ui/format";
import { Mark } from "../ui/Mark";
import { t, tn } from "../words";
import { nameOf } from "./countries";
import type { To, Written } from "./order";
import css from "./orders.module.css";

/** An order as it will be sent: every file, copies, paper, address and price. */
export function OrderSummary({
  job,
  order,
  files,
  lab,
  sending,
  onBack,
  onSend,
}: {
  job: string;
  order: NewOrder;
  files: Written[];
  lab: LabSays | undefined;
  sending: boolean;
  onBack: () => void;
  onSend: () => void;
}) {
  const lines = [...new Set(files.map((file) => file.edition ?? ""))];
  const approval = approvalOf(useProofLinks(job).data ?? [], lines);
  const copiesOf = (file: Written) => order.copies || file.copies;
  const pages = files.reduce((sum, file) => sum + copiesOf(file), 0);
  const prices = lab?.reachable ? lab.prices : undefined;
  return (
    <div className={css.form}>
      {lines.map((line) => {
        const filesHere = files.filter((file) => (file.edition ?? "") === line);
        const copies = filesHere[0] ? copiesOf(filesHere[0]) : 1;
        return (
          <section key={line} className={css.line} aria-label={line || t("Files")}>
            <h3>
              {line || t("Files")}{" "}
              <span className="num">
                {tn(filesHere.length, "{n} file", "{n} files")}, {tn(copies, "{n} copy", "{n} copies")}
              </span>
            </h3>
            <ul className={css.files}>
              {filesHere.map((file) => (
                <li key={file.file}>{file.file}</li>
              ))}
            </ul>
            {order.each_to?.[line] && <Address to={order.each_to[line] as To} label={t("Ship to")} />}
          </section>
        );
      })}
      <dl className={css.facts}>
        <dt>{lines.length > 1 ? t("Ship the rest to") : t("Ship to")}</dt>
        <dd>
          <Address to={order.to as To} />
        </dd>
        <dt>{t("Paper")}</dt>
        <dd>
          {[order.paper, order.finish, order.cover && t("cover {cover}", { cover: order.cover })]
            .filter(Boolean)
            .join(", ")}
        </dd>
        {order.wish && (
          <>
            <dt>{t("Needed by")}</dt>
            <dd>{order.wish}</dd>
          </>
        )}
        {order.note && (
          <>
            <dt>{t("Note")}</dt>
            <dd>{order.note}</dd>
          </>
        )}
        {approval && (
          <>
            <dt>{t("Approval")}</dt>
            <dd>
              <Mark status={approval.look ? "look" : "order"} /> {approval.sentence}
            </dd>
          </>
        )}
        <dt>{t("Price")}</dt>
        <dd className="num">
          {prices
            ? t("about {number} at the lab's prices", {
                number: money((prices.order ?? 0) + (prices.page ?? 0) * pages, prices.currency ?? ""),
              })
            : t("not known until the lab answers")}
        </dd>
        {lab?.reachable && lab.turnaround && (
          <>
            <dt>{t("Ready in")}</dt>
            <dd>{lab.turnaround}</dd>
          </>
        )}
      </dl>
      {lab && !lab.reachable && (
        <p role="alert" className={css.note}>
          {t("{message} The order is saved as not sent. Send it when the lab is back.", {
            message: lab.message,
          })}
        </p>
      )}
      <Answer>
        <Button variant="default" onClick={onBack}>
          {t("Back")}
        </Button>
        <Button loading={sending} onClick={onSend} data-autofocus>
          {t("Send order")}
        </Button>
      </Answer>
    </div>
  );
}

function Address({ to, label }: { to: To; label?: string }) {
  return (
    <address className={css.address}>
      {label && `${label}: `}
      {[to.name, to.street, [to.postcode, to.place].filter(Boolean).join(" "), nameOf(to.country)]
        .filter(Boolean)
        .join(", ")}
    </address>
  );
}
