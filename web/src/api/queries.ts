import { notifications } from "@mantine/notifications";
import {
  type MutateOptions,
  QueryClient,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
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
import { pending } from "./pending";

export const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false, staleTime: 30_000 } },
});

/** How many changes of each job were sent: an answer that a later change has overtaken is old. */
const sent = new Map<string, number>();

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
    queryFn: async () => {
      const before = sent.get(job);
      const state = await answer<JobState>(api.GET("/api/jobs/{job}", { params: { path: { job } } }));
      // Overtaken by a change made meanwhile, whose own answer is newer.
      const shown = client.getQueryData<JobState>(["job", job]);
      return sent.get(job) === before || !shown ? state : shown;
    },
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
export function foreseen(state: JobState, edit: Edit): JobState {
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

/** An edit, or how to make it from the job as it is known when it is sent. */
type Made = Edit | ((now: JobState) => Edit | undefined);
type Sent = { nth: number; stored: () => void } & (
  | { back: "undo" | "redo" }
  | { edit: Edit; gesture?: string }
);
type Done = MutateOptions<JobState, Error, Sent>;

/**
 * Changes a job: edits, undo, redo, one after the other. Each answer is the job's new state. An edit that sets something
 * as a whole is given as a function, so that of two made in quick succession neither takes the other back.
 */
export function useChange(job: string) {
  const queries = useQueryClient();
  const key = ["job", job];
  const path = { params: { path: { job } } };
  const {
    mutate: send,
    isPending,
    variables,
  } = useMutation({
    scope: { id: job },
    mutationFn: (what: Sent) =>
      answer<JobState>(
        "edit" in what
          ? api.POST("/api/jobs/{job}/edits", { ...path, body: { edit: what.edit, gesture: what.gesture } })
          : what.back === "undo"
            ? api.POST("/api/jobs/{job}/undo", path)
            : api.POST("/api/jobs/{job}/redo", path),
      ),
    onSuccess: (state, { nth }) => {
      // With more under way, what is shown already is ahead of this answer.
      if (sent.get(job) === nth) queries.setQueryData(key, state);
      queries.invalidateQueries({ queryKey: ["jobs"] });
    },
    onError: (error) => {
      complain(error);
      queries.invalidateQueries({ queryKey: key });
    },
    onSettled: (_state, _error, { stored }) => stored(),
  });
  const next = useCallback(() => {
    const nth = (sent.get(job) ?? 0) + 1;
    sent.set(job, nth);
    return { nth, stored: pending() };
  }, [job]);
  const mutate = useCallback(
    ({ edit, gesture }: { edit: Made; gesture?: string }, done?: Done) => {
      const now = queries.getQueryData<JobState>(["job", job]);
      const made = typeof edit === "function" ? now && edit(now) : edit;
      if (!made) return;
      if (now) queries.setQueryData(["job", job], foreseen(now, made));
      send({ ...next(), edit: made, gesture }, done);
    },
    [queries, job, send, next],
  );
  const undo = useCallback(() => send({ ...next(), back: "undo" }), [send, next]);
  const redo = useCallback(() => send({ ...next(), back: "redo" }), [send, next]);
  return {
    edit: { mutate },
    filling: isPending && variables && "edit" in variables && variables.edit.op === "fill",
    undo: { mutate: undo },
    redo: { mutate: redo },
  };
}

/** News is acted on at most this often, in ms: an import of a thousand photos is not a thousand fetches of the job. */
const NEWS = 400;

/** Listens to what the server says has changed, and asks for it anew. */
export function useEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const source = new EventSource("/api/events");
    const news = new Map<string, string[]>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const act = () => {
      timer = undefined;
      for (const [name, queryKey] of news) {
        // What is being fetched may be old already: asked for again once it is there.
        if (queries.isFetching({ queryKey })) continue;
        news.delete(name);
        queries.invalidateQueries({ queryKey });
      }
      if (news.size) timer = setTimeout(act, NEWS);
    };
    source.onmessage = (message) => {
      const { kind, id } = JSON.parse(message.data) as { kind: string; id: string };
      // A job changed here is in hand already; a change of another window, or an import, is not.
      if (kind !== "export" && queries.isMutating()) return;
      // Photos were looked at: what must stay visible in them is known now, in whatever job.
      const key = kind === "job" ? ["job", id] : kind === "found" ? ["job"] : ["exports"];
      news.set(key.join(), key);
      timer ??= setTimeout(act, NEWS);
    };
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }, [queries]);
}
