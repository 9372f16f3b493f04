/** What is asked of the server beside jobs: the shelf, lab sheets, lists, tasks, histories. Held in the query cache alone. */
import { QueryClient, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { answer, api, type HistoryState, type JobList, type LabSheet, Lost, type OrnamentPiece, type StudioCard, type TaskState, type TemplateCard, type Theme } from "./client"; // biome-ignore format: a list
import { listen } from "./news";

export const client = new QueryClient({
  defaultOptions: {
    // Never paused by what the browser takes for being offline: the server is this machine.
    queries: {
      networkMode: "always",
      retry: (count, error) => error instanceof Lost && count < 30,
      retryDelay: 1500,
      refetchOnWindowFocus: false,
      staleTime: 30_000,
    },
    mutations: { networkMode: "always" },
  },
});

listen(({ kind, id }) => {
  const stale = (...queryKey: string[]) => client.invalidateQueries({ queryKey });
  if (kind === "job" || kind === "shelf" || kind === "measured") stale("jobs");
  if (kind === "job" || kind === "history") stale("history", id);
  if (kind === "templates") stale("templates");
  if (kind === "card") for (const name of ["card", "templates"]) stale(name);
  if (kind === "order") stale("orders");
  if (kind === "proof" || kind === "job") stale("proof-links", id);
  if (kind === "watched") stale("watched");
  if (kind === "task") stale("tasks", id);
  if (kind === "missed" || kind === "back") client.invalidateQueries();
});

export const useTemplates = () =>
  useQuery({
    queryKey: ["templates"],
    queryFn: ({ signal }) => answer<TemplateCard[]>(api.GET("/api/templates", { signal })),
    staleTime: Infinity,
  });

export const useLabs = () =>
  useQuery({
    queryKey: ["labs"],
    queryFn: ({ signal }) => answer<LabSheet[]>(api.GET("/api/labs", { signal })),
    staleTime: Infinity,
  });

export const useThemes = () =>
  useQuery({
    queryKey: ["themes"],
    queryFn: ({ signal }) => answer<Theme[]>(api.GET("/api/themes", { signal })),
    staleTime: Infinity,
  });

export const useOrnaments = () =>
  useQuery({
    queryKey: ["ornaments"],
    queryFn: ({ signal }) => answer<OrnamentPiece[]>(api.GET("/api/ornaments", { signal })),
    staleTime: Infinity,
  });

export const useCard = () =>
  useQuery({
    queryKey: ["card"],
    queryFn: ({ signal }) => answer<StudioCard>(api.GET("/api/studio-card", { signal })),
    staleTime: Infinity,
  });

export interface Asked {
  words: string;
  which: "work" | "archived" | "deleted" | "workshop";
  sort: "changed" | "created" | "name" | "customer";
}
const PAGE = 40;

/** Jobs, a page of the list after the other. */
export const useJobs = (request: Asked) =>
  useInfiniteQuery({
    queryKey: ["jobs", request],
    queryFn: ({ pageParam, signal }) =>
      answer<JobList>(
        api.GET("/api/jobs", { signal, params: { query: { ...request, limit: PAGE, offset: pageParam } } }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, all) => {
      const so_far = all.reduce((sum, page) => sum + page.jobs.length, 0);
      return so_far < last.count && last.jobs.length ? so_far : undefined;
    },
    placeholderData: (before) => before,
  });

export const useTasks = (job: string) =>
  useQuery({
    queryKey: ["tasks", job],
    queryFn: ({ signal }) =>
      answer<TaskState[]>(api.GET("/api/jobs/{job}/tasks", { signal, params: { path: { job } } })),
  });

export const useHistory = (job: string, open: boolean) =>
  useQuery({
    queryKey: ["history", job],
    queryFn: ({ signal }) =>
      answer<HistoryState[]>(api.GET("/api/jobs/{job}/history", { signal, params: { path: { job } } })),
    enabled: open,
  });
