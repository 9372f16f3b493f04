import { useLocation } from "wouter";
import type { Finding } from "../api/client";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { useOrders } from "../orders/useOrders";
import { Mark } from "../ui/Mark";
import { useUnit } from "../ui/units";
import { usePicked } from "../ui/usePicked";
import { when } from "../ui/when";
import { t, tn } from "../words";
import { Accepting } from "./Accepting";
import css from "./side.module.css";

/** What the lab refused of this sheet when it was ordered last, until it is ordered again. */
function useRefused(state: View) {
  const [last] = useOrders(state.id).data ?? [];
  const reasons = last?.state === "refused" ? last.reasons : [];
  const made = when(last?.made ?? "");
  return reasons
    .filter(
      (reason) =>
        (!reason.sheet || reason.sheet === state.sheet.id) &&
        (!reason.edition || reason.edition === state.own.id),
    )
    .map((reason) => ({
      key: `${reason.file} ${reason.reason}`,
      sentence: reason.sheet
        ? t("The lab refused this sheet ({made}): {reason}", { made, reason: reason.reason })
        : t("The lab refused the order ({made}): {reason}", { made, reason: reason.reason }),
    }));
}

/** What the checks found; each is one click from its place. */
export function Findings({ state }: { state: View }) {
  const { selected, set } = usePicked(useBench, "selected", "set");
  const { inWords } = useUnit();
  const others = state.sheets.flatMap((sheet, index) => {
    const [, , stops = 0, looks = 0] = state.marks[index]?.counts ?? [];
    return index !== state.at && stops + looks ? [{ sheet, stops, looks }] : [];
  });
  const unknown = state.marks.filter((mark, index) => index !== state.at && !mark.counts).length;
  const [, go] = useLocation();
  const refused = useRefused(state);
  // Photos that were not looked at yet: nobody knows whether a face is cut.
  const checking =
    state.rows.filter((row) => row.checking).length +
    state.marks.reduce((sum, { counts }, index) => sum + (index === state.at ? 0 : (counts?.[4] ?? 0)), 0);
  const none = state.findings.length + others.length + unknown === 0;
  return (
    <ul className={`${css.findings} ${css.scroll}`} aria-label={t("Findings")}>
      {refused.map(({ key, sentence }) => (
        <li key={key}>
          <button type="button" className={css.plain} onClick={() => go("/orders")}>
            <Mark status="stop" />
            <span>{sentence}</span>
          </button>
        </li>
      ))}
      {none && (
        <li className={css.empty}>
          <Mark status={checking ? "checking" : "order"} />{" "}
          {checking
            ? tn(
                checking,
                "Being checked: {n} photo not looked at yet.",
                "Being checked: {n} photos not looked at yet.",
              )
            : refused.length
              ? t("The checks here found nothing else.")
              : t("Ready. The job can go to dispatch.")}
        </li>
      )}
      {state.findings.map((finding, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: findings have no other name
        <li key={index} data-selected={(finding.layer && selected === finding.layer) || undefined}>
          <div className={css.finding}>
            <button
              type="button"
              className={css.plain}
              onClick={() => set({ selected: finding.layer || undefined })}
            >
              <Mark status={finding.severity} />
              <span>{inWords(finding.sentence)}</span>
            </button>
            {!finding.accepted && <Accepting state={state} finding={finding} all={state.findings} />}
          </div>
          {finding.accepted && <Accepting state={state} finding={finding} all={state.findings} />}
        </li>
      ))}
      {others.map(({ sheet, stops, looks }) => (
        <li key={sheet.id}>
          <button
            type="button"
            className={css.plain}
            onClick={() => set({ sheet: sheet.id, selected: undefined })}
          >
            <Mark status={stops ? "stop" : "look"} />
            <span>
              {sheet.name}:{" "}
              {[stops && tn(stops, "{n} stop", "{n} stops"), looks && tn(looks, "{n} look", "{n} looks")]
                .filter(Boolean)
                .join(", ")}
            </span>
          </button>
        </li>
      ))}
      {unknown > 0 && (
        <li className={css.empty}>{tn(unknown, "{n} sheet being checked…", "{n} sheets being checked…")}</li>
      )}
    </ul>
  );
}

/** Findings of one opening or text, in its own panel. */
export function FoundHere({ findings }: { findings: Finding[] }) {
  const { inWords } = useUnit();
  return findings.map((finding) => (
    <p key={finding.rule + finding.sentence} className={css.found}>
      <Mark status={finding.severity} /> {inWords(finding.sentence)}
    </p>
  ));
}
