import { Button, Progress } from "@mantine/core";
import { answer, api, type TaskState } from "../api/client";
import { complain } from "../ui/complain";
import { t } from "../words";
import css from "./bench.module.css";
import { useRunning } from "./useRunning";

/** A long filling: how far it has got, and a way to stop it. The bench stays live meanwhile. */
export function Running({ job }: { job: string }) {
  const task = useRunning(job, "fill");
  if (!task) return null;
  const { progress } = task;
  const stop = () =>
    answer<TaskState>(api.POST("/api/tasks/{task}/stop", { params: { path: { task: task.id } } })).catch(
      complain,
    );
  return (
    <div className={css.preview} role="status">
      {progress
        ? t("Filling: {stage}, {done} of {total}", {
            stage: progress.stage,
            done: progress.done,
            total: progress.total,
          })
        : t("Filling…")}
      <Progress
        value={progress ? (100 * progress.done) / Math.max(1, progress.total) : 0}
        w={120}
        aria-label={t("Filling")}
      />
      <Button size="compact-xs" variant="default" onClick={stop}>
        {t("Stop")}
      </Button>
    </div>
  );
}
