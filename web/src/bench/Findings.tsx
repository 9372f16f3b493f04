import type { Finding, JobState } from "../api/client";
import { Mark } from "../ui/Mark";
import css from "./side.module.css";
import { useBench } from "./store";

/** What the checks found; each is one click from its place. */
export function Findings({ state }: { state: JobState }) {
  const { selected, set } = useBench();
  const pageIds = state.job.pages.map((entry) => entry.id);
  if (state.findings.length === 0)
    return (
      <p className={css.empty}>
        <Mark status="order" /> Everything is in order. The job can go to dispatch.
      </p>
    );
  return (
    <ul className={`${css.findings} ${css.scroll}`} aria-label="Findings">
      {state.findings.map((finding, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: findings have no other name
        <li key={at} data-selected={(finding.layer && selected === finding.layer) || undefined}>
          <button
            type="button"
            className={css.plain}
            onClick={() => set({ page: pageIds.indexOf(finding.page), selected: finding.layer || undefined })}
          >
            <Mark status={finding.severity} />
            <span>{finding.sentence}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Findings of one opening or text, in its own panel. */
export function FoundHere({ findings }: { findings: Finding[] }) {
  return findings.map((finding) => (
    <p key={finding.rule + finding.sentence} className={css.found}>
      <Mark status={finding.severity} /> {finding.sentence}
    </p>
  ));
}
