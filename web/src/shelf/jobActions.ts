/** What can be done with a job on the shelf, for its menu. */
import { useLocation } from "wouter";
import { answer, api, type JobCard } from "../api/client";
import { client } from "../api/queries";
import { useContactSheet } from "../editing/contactSheet";
import { leaveTourOf } from "../tour/tour";
import { type Action, saveFile } from "../ui/actions";
import { complain } from "../ui/complain";
import { t } from "../words";

export function useJobActions(job: JobCard, onCopy: () => void, onKeep: () => void): Action[] {
  const [, go] = useLocation();
  const makeContactSheet = useContactSheet(job.id);
  const path = { path: { job: job.id } };
  const run = async (call: Promise<{ data?: unknown; error?: unknown; response?: Response }>) => {
    try {
      await answer(call);
      client.invalidateQueries({ queryKey: ["jobs"] });
    } catch (error) {
      complain(error);
    }
  };
  const place = { params: path };
  const archived = "/api/jobs/{job}/archived";
  if (job.deleted)
    return [{ label: t("Restore"), run: () => run(api.POST("/api/jobs/{job}/restore", place)) }];
  return [
    ...(job.unreadable
      ? []
      : [{ label: t("Open"), run: () => go(job.making ? `/jobs/${job.id}/workshop` : `/jobs/${job.id}`) }]),
    { label: t("New job from this…"), run: onCopy },
    { label: t("Dispatch"), run: () => go(`/jobs/${job.id}/dispatch`) },
    ...(job.making || job.unreadable
      ? []
      : [
          {
            ...saveFile(t("Proof for the customer"), `/api/jobs/${job.id}/proof.html`),
            starts: true,
          },
          { label: t("Contact sheet of its photos"), run: makeContactSheet },
          { label: t("Save as template…"), run: onKeep },
        ]),
    saveFile(t("Save bundle"), `/api/jobs/${job.id}/bundle`),
    {
      label: job.archived ? t("Return to active") : t("Archive"),
      starts: true,
      run: () => run(job.archived ? api.DELETE(archived, place) : api.PUT(archived, place)),
    },
    {
      label: t("Delete"),
      run: () => {
        leaveTourOf(job.id);
        return run(api.DELETE("/api/jobs/{job}", place));
      },
    },
  ];
}
