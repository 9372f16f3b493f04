import { Button, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { answer, api, type ProofLinkState } from "../api/client";
import { client } from "../api/queries";
import { jobStore } from "../editing/jobs";
import type { View } from "../editing/view";
import { complain, say } from "../ui/complain";
import { day, when } from "../ui/when";
import { t, tn } from "../words";
import { keyOf, useProofLinks } from "./proofLinks";
import css from "./remarks.module.css";

const DAYS = [7, 14, 30, 90];

/** Links by which the customer looks at the proof: made, copied, brought up to date, removed; and what came of each. */
export function ProofLinks({ state }: { state: View }) {
  const [days, setDays] = useState(14);
  const path = { job: state.id };
  const links = useProofLinks(state.id);
  const run = async (call: () => Promise<unknown>) => {
    try {
      await jobStore(state.id).settled();
      await call();
      await client.invalidateQueries({ queryKey: keyOf(state.id) });
    } catch (error) {
      complain(error);
    }
  };
  const make = () =>
    run(async () => {
      const link = await answer<ProofLinkState>(
        api.POST("/api/jobs/{job}/proof-links", { params: { path }, body: { edition: state.own.id, days } }),
      );
      await copy(link);
    });
  const all = links.data ?? [];
  const placeOf = ({ token }: ProofLinkState) => ({ params: { path: { ...path, token } } });
  const act = (label: string, call: () => Promise<unknown>) => (
    <Button size="compact-xs" variant="default" onClick={() => run(call)}>
      {label}
    </Button>
  );
  return (
    <section className={css.links} aria-label={t("Links to the proof")}>
      <div className={css.bring}>
        <Button size="compact-sm" variant="default" onClick={make}>
          {t("Create link")}
        </Button>
        <Select
          size="xs"
          w={116}
          aria-label={t("Open for")}
          allowDeselect={false}
          value={String(days)}
          onChange={(value) => setDays(Number(value))}
          data={DAYS.map((count) => ({
            value: String(count),
            label: tn(count, "for {n} day", "for {n} days"),
          }))}
        />
      </div>
      {all.length > 0 && isLocal(all[0] as ProofLinkState) && (
        <p className={css.hint}>
          {t(
            "These links open on this machine only. For customers, set public_url to an address that they reach.",
          )}
        </p>
      )}
      <ul>
        {all.map((link) => (
          <li key={link.token} data-over={link.has_expired || undefined}>
            <strong>{statusOf(link)}</strong>
            <span>
              {[
                link.edition_name,
                link.opened ? t("opened {when}", { when: when(link.opened) }) : t("not opened yet"),
                link.remarks > 0 && tn(link.remarks, "{n} remark", "{n} remarks"),
                link.has_expired
                  ? t("expired {day}", { day: day(link.expires) })
                  : t("open until {day}", { day: day(link.expires) }),
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
            {!link.is_current && !link.has_expired && (
              <span>
                {link.approved
                  ? t("The job has changed since it was approved.")
                  : t("The job has changed since: the link shows it as it was.")}
              </span>
            )}
            {!link.has_expired && (
              <TextInput
                size="xs"
                readOnly
                aria-label={t("Link")}
                value={addressOf(link).href}
                onFocus={(event) => event.currentTarget.select()}
              />
            )}
            <div className={css.bring}>
              {!link.has_expired && act(t("Copy link"), () => copy(link))}
              {!link.is_current &&
                !link.has_expired &&
                act(t("Show as it is now"), () =>
                  answer(api.PUT("/api/jobs/{job}/proof-links/{token}/current", placeOf(link))),
                )}
              {act(t("Remove"), () =>
                answer(api.DELETE("/api/jobs/{job}/proof-links/{token}", placeOf(link))),
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

const addressOf = (link: ProofLinkState) => new URL(link.url, window.location.origin);

const isLocal = (link: ProofLinkState) =>
  ["localhost", "127.0.0.1", "[::1]"].includes(addressOf(link).hostname);

/** Copies a link, where the browser lets pages do so: by plain HTTP from another machine it does not, and it is copied from its field. */
async function copy(link: ProofLinkState) {
  try {
    await navigator.clipboard.writeText(addressOf(link).href);
    say(t("The link is copied. Send it to the customer."));
  } catch {
    say(t("Copy the link from its field, and send it to the customer."));
  }
}

function statusOf(link: ProofLinkState): string {
  if (link.approved)
    return t("Approved by {name}, {day}", { name: link.approved_by ?? "", day: day(link.approved) });
  return link.has_expired ? t("Expired") : t("Waiting for the customer");
}
