/** The links to a job's proofs, and what they say of the customer's approval. */
import { useQuery } from "@tanstack/react-query";
import { answer, api, type ProofLinkState } from "../api/client";
import { listed } from "../ui/format";
import { day } from "../ui/when";
import { t } from "../words";

export const keyOf = (job: string) => ["proof-links", job];

export const useProofLinks = (job: string) =>
  useQuery({
    queryKey: keyOf(job),
    queryFn: ({ signal }) =>
      answer<ProofLinkState[]>(api.GET("/api/jobs/{job}/proof-links", { signal, params: { path: { job } } })),
  });

/** Whether the customer approved what is ordered, all editions of it: a sentence, and whether it wants a look; nothing where no proof was sent by a link.
 *  `lines`: the editions by name, "" where the job has one. */
export function approvalOf(
  links: ProofLinkState[],
  lines: string[],
): { sentence: string; look: boolean } | undefined {
  if (!links.length) return undefined;
  const waiting: string[] = [];
  let best: ProofLinkState | undefined;
  let changed: ProofLinkState | undefined;
  for (const line of lines) {
    const approved = links.filter((link) => link.approved && ["", line].includes(link.edition_name));
    const current = approved.find((link) => link.is_current);
    best ??= current;
    if (!current) changed ??= approved[0];
    if (!approved.length) waiting.push(line);
  }
  if (waiting.length)
    return {
      sentence:
        lines.length > 1
          ? t("The customer has not approved yet: {names}.", { names: listed(waiting) })
          : t("The customer has not approved the proof yet."),
      look: true,
    };
  const said = changed ?? best;
  const values = { name: said?.approved_by ?? "", day: day(said?.approved ?? "") };
  return changed
    ? { sentence: t("The job has changed since {name} approved it on {day}.", values), look: true }
    : { sentence: t("Approved by {name}, {day}", values), look: false };
}
