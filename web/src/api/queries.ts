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

/**
 * A job with an edit that sets something as a whole already in it, until the server answers: the next such edit, made
 * from what is on the screen, must not take it back.
 */
function foreseen(state: JobState, edit: Edit): JobState {
  const { job } = state;
  const { edition } = job;
  if (edit.op === "alter" || edit.op === "echo") {
    const pages = job.pages.map((page) => ({
      ...page,
      layers: page.layers.map((layer) => (layer.id === edit.layer.id ? edit.layer : layer)),
    }));
    return { ...state, job: { ...job, pages } };
  }
  if (edit.op === "mend") {
    const set = <T>(
      tones: Record<string, T>,
      id: string | null | undefined,
      recipe: T | null | undefined,
    ) => {
      if (!id) return tones;
      const { [id]: _, ...rest } = tones;
      return recipe ? { ...rest, [id]: recipe } : rest;
    };
    const tones = set(edition.tones, edit.opening, edit.recipe);
    const photo_tones = set(edition.photo_tones, edit.photo, edit.recipe);
    return { ...state, job: { ...job, edition: { ...edition, tones, photo_tones } } };
  }
  return state;
}

/** Changes a job: edits, undo, redo. Each answer is the job's new state. */
export function useChange(job: string) {
  const queries = useQueryClient();
  const key = ["edit", job];
  const keep = (state: JobState) => {
    // With more edits under way, what is shown already is ahead of this answer.
    if (queries.isMutating({ mutationKey: key }) <= 1) queries.setQueryData(["job", job], state);
    queries.invalidateQueries({ queryKey: ["jobs"] });
  };
  const path = { params: { path: { job } } };
  const edit = useMutation({
    mutationKey: key,
    scope: { id: job },
    onMutate: ({ edit }) => {
      const before = queries.getQueryData<JobState>(["job", job]);
      queries.setQueryData<JobState>(["job", job], before && foreseen(before, edit));
      return before;
    },
    mutationFn: ({ edit, gesture }: { edit: Edit; gesture?: string }) =>
      answer<JobState>(api.POST("/api/jobs/{job}/edits", { ...path, body: { edit, gesture } })),
    onSuccess: keep,
    onError: (error, _, before) => {
      complain(error);
      queries.setQueryData(["job", job], before);
      queries.invalidateQueries({ queryKey: ["job", job] });
    },
  });
  const undo = useMutation({
    mutationKey: key,
    scope: { id: job },
    mutationFn: () => answer<JobState>(api.POST("/api/jobs/{job}/undo", path)),
    onSuccess: keep,
    onError: complain,
  });
  const redo = useMutation({
    mutationKey: key,
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
      // Photos were looked at: what must stay visible in them is known now.
      if (kind === "found" && !queries.isMutating()) queries.invalidateQueries({ queryKey: ["job"] });
      if (kind === "export") queries.invalidateQueries({ queryKey: ["exports"] });
    };
    return () => source.close();
  }, [queries]);
}
