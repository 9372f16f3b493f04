import { Link } from "wouter";
import type { Finding } from "../api/client";
import { part } from "../api/parts";
import { Accepting } from "../bench/Accepting";
import { useEditions } from "../bench/Editions";
import { jobAddress } from "../editing/addresses";
import type { View } from "../editing/view";
import { Mark } from "../ui/Mark";
import { inWords } from "../ui/units";
import { t } from "../words";
import css from "./dispatch.module.css";
import { useUnitOf } from "./useUnitOf";

/** What the checks found, stops first: each leads to where it lies, and can be let pass. */
export function Checks({
  state,
  edition,
  findings,
  isFresh: fresh,
}: {
  state: View;
  edition: string;
  findings: Finding[];
  /** Whether they are of the job as it stands now. */
  isFresh: boolean;
}) {
  const unit = useUnitOf(state);
  const editions = useEditions(state);
  const sheets = part("sheets", state.job.sheets)?.sheets ?? state.sheets;
  const stops = findings.filter((finding) => finding.severity === "stop");
  const looks = findings.filter((finding) => finding.severity === "look");
  const checking = state.rows.some((row) => row.checking) || state.marks.some(({ counts }) => counts?.[4]);
  return (
    <div className={css.findings}>
      {!fresh && <p role="status">{t("Being checked…")}</p>}
      {fresh && stops.length + looks.length === 0 && (
        <p>
          {checking ? (
            <>
              <Mark status="checking" />{" "}
              {t("Being checked: an export waits until every photo was looked at.")}
            </>
          ) : (
            <>
              <Mark status="order" /> {t("The checks found nothing.")}
            </>
          )}
        </p>
      )}
      <div className={css.list} aria-busy={!fresh}>
        {[...stops, ...looks].map((finding) => (
          <div
            key={[finding.edition, finding.sheet, finding.layer, finding.rule, finding.sentence].join(" ")}
          >
            <div className={css.finding}>
              <Link
                href={jobAddress(state.id, {
                  sheet: finding.sheet,
                  edition: finding.edition ?? edition,
                  selected: finding.layer,
                  panel: "findings",
                })}
              >
                <Mark status={finding.severity} />{" "}
                <span>
                  {finding.edition &&
                    `${editions.find((edition) => edition.id === finding.edition)?.name ?? ""}, `}
                  {sheets.length > 1 && `${sheets.find((sheet) => sheet.id === finding.sheet)?.name ?? ""}: `}
                  {inWords(finding.sentence, unit)}
                </span>
              </Link>
              {!finding.accepted && <Accepting state={state} finding={finding} all={findings} />}
            </div>
            {finding.accepted && <Accepting state={state} finding={finding} all={findings} />}
          </div>
        ))}
      </div>
    </div>
  );
}
