/** The links to a job's proofs, and what they say of the customer's approval. */
import { useQuery } from "@tanstack/react-query";
import { answer, api, type ProofLinkState } from "../api/client";
import { day } from "../ui/when";
import { t } from "../words";

export const keyOf = (job: string) => ["proof-links", job];

export const useProofLinks = (job: string) =>
  useQuery({
    queryKey: keyOf(job),
    queryFn: ({ signal }) =>
      answer<ProofLinkState[]>(api.GET("/api/jobs/{job}/proof-links", { signal, params: { path: { job } } })),
  });

/** Whether the customer approved what is ordered: a sentence, and whether it wants a look; nothing where no proof was sent by a link. */
export function approvalOf(links: ProofLinkState[]): { sentence: string; look: boolean } | undefined {
  const approved = links.filter((link) => link.approved);
  const best = approved.find((link) => link.is_current) ?? approved[0];
  if (!best)
    return links.length
      ? { sentence: t("The customer has not approved the proof yet."), look: true }
      : undefined;
  const values = { name: best.approved_by ?? "", day: day(best.approved ?? "") };
  return best.is_current
    ? { sentence: t("Approved by {name}, {day}", values), look: false }
    : { sentence: t("The job has changed since {name} approved it on {day}.", values), look: true };
}
