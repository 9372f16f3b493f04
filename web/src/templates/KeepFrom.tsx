import { useJobStore } from "../editing/useJob";
import { KeepDialog } from "./KeepDialog";

/** Keeps a job's sheets as a template, from wherever the job is named. */
export function KeepFrom({ job, onClose }: { job: string; onClose: () => void }) {
  const view = useJobStore(job, "").viewOf("");
  return view ? <KeepDialog state={view} onClose={onClose} /> : null;
}
