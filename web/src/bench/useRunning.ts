/** Long work of a job that is under way. */
import { useTasks } from "../api/queries";

/** The newest task of a kind that has not ended. */
export function useRunning(job: string, kind: "fill" | "export" | "plan") {
  const tasks = useTasks(job);
  return tasks.data?.find(
    (task) => task.kind === kind && (task.state === "running" || task.state === "queued"),
  );
}
