import { notifications } from "@mantine/notifications";
import { QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  answer,
  api,
  type Edit,
  type ExportState,
  type JobCard,
  type JobState,
  type LabSheet,
  type TemplateCard,
} from "./client";

export const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false, staleTime: 30_000 } },
});

export const useTemplates = () =>
  useQuery({
    queryKey: ["templates"],
    queryFn: () => answer<TemplateCard[]>(api.GET("/api/templates")),
    staleTime: Infinity,
  });
export const useLabs = () =>
  useQuery({
    queryKey: ["labs"],
    queryFn: () => answer<LabSheet[]>(api.GET("/api/labs")),
    staleTime: Infinity,
  });
export const useJobs = () =>
  useQuery({ queryKey: ["jobs"], queryFn: () => answer<JobCard[]>(api.GET("/api/jobs")) });
export const useJob = (job: string) =>
  useQuery({
    queryKey: ["job", job],
    queryFn: () => answer<JobState>(api.GET("/api/jobs/{job}", { params: { path: { job } } })),
  });
export const useExports = (job: string) =>
  useQuery({
    queryKey: ["exports", job],
    queryFn: () => answer<ExportState[]>(api.GET("/api/jobs/{job}/exports", { params: { path: { job } } })),
  });

export function complain(error: unknown) {
  notifications.show({
    color: "red",
    message: error instanceof Error ? error.message : String(error),
    autoClose: 7000,
  });
}

/** Changes a job: edits, undo, redo. Each answer is the job's new state. */
export function useChange(job: string) {
  const queries = useQueryClient();
  const keep = (state: JobState) => {
    queries.setQueryData(["job", job], state);
    queries.invalidateQueries({ queryKey: ["jobs"] });
  };
  const path = { params: { path: { job } } };
  const edit = useMutation({
    scope: { id: job },
    mutationFn: ({ edit, gesture }: { edit: Edit; gesture?: string }) =>
      answer<JobState>(api.POST("/api/jobs/{job}/edits", { ...path, body: { edit, gesture } })),
    onSuccess: keep,
    onError: complain,
  });
  const undo = useMutation({
    scope: { id: job },
    mutationFn: () => answer<JobState>(api.POST("/api/jobs/{job}/undo", path)),
    onSuccess: keep,
    onError: complain,
  });
  const redo = useMutation({
    scope: { id: job },
    mutationFn: () => answer<JobState>(api.POST("/api/jobs/{job}/redo", path)),
    onSuccess: keep,
    onError: complain,
  });
  return { edit, undo, redo };
}

/** Listens to what the server says has changed, and asks for it anew. */
export function useEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const source = new EventSource("/api/events");
    source.onmessage = (message) => {
      const { kind, id } = JSON.parse(message.data) as { kind: string; id: string };
      // A job changed here is in hand already; a change of another window, or an import, is not.
      if (kind === "job" && !queries.isMutating()) queries.invalidateQueries({ queryKey: ["job", id] });
      if (kind === "export") queries.invalidateQueries({ queryKey: ["exports"] });
    };
    return () => source.close();
  }, [queries]);
}
