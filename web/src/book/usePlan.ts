/** A plan of a book as it is wished for: begun once the dials rest, an answer to earlier wishes never shown for it. */
import { useDebouncedValue } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type SeenBook, type TaskState, type Wishes } from "../api/client";
import { useTasks } from "../api/queries";
import type { View } from "../editing/view";
import { t } from "../words";

const SOON = 350; // ms without a further change before a plan is asked for

export type Dials = Omit<Required<Wishes>, "pages" | "photos"> & {
  pages: number | null;
  photos: number | null;
};

export function usePlan(state: View, wishes: Dials, sheets: string[] | undefined) {
  const [settled] = useDebouncedValue(wishes, SOON);
  const [tries, setTries] = useState(0);
  const { id } = state;
  const edition = state.own.id;
  const begun = useQuery({
    queryKey: ["plan", id, edition, sheets, settled, tries],
    queryFn: ({ signal }) =>
      answer<TaskState>(
        api.POST("/api/jobs/{job}/plans", {
          signal,
          params: { path: { job: id } },
          body: { edition, wishes: settled as Wishes, sheets: sheets?.length ? sheets : null },
        }),
      ),
    staleTime: Infinity,
    gcTime: 0, // the same wishes later are of a job that may have changed
  });
  const tasks = useTasks(id);
  const task = begun.data && (tasks.data?.find((one) => one.id === begun.data.id) ?? begun.data);
  const planned = useQuery({
    queryKey: ["planned", begun.data?.id],
    queryFn: ({ signal }) =>
      answer<SeenBook>(
        api.GET("/api/plans/{task}", { signal, params: { path: { task: begun.data?.id ?? "" } } }),
      ),
    enabled: task?.state === "done",
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const isFresh =
    settled === wishes && task?.state === "done" && Boolean(planned.data) && !planned.isPlaceholderData;
  const failure = begun.error?.message ?? planned.error?.message ?? "";
  const ended: Partial<Record<TaskState["state"], string>> = {
    failed: task?.message,
    stopped: t("Another window has asked for a layout of this book meanwhile."),
  };
  return {
    /** The last plan that is here, of whatever wishes. */
    seen: planned.data,
    /** Whether it is of these wishes: no other is kept. */
    isFresh,
    progress: task?.progress ?? undefined,
    failure: failure || ((task && ended[task.state]) ?? ""),
    askAgain: () => setTries((count) => count + 1),
  };
}
