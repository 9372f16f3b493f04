/** Which job the tour is of, kept in this browser, and how it begins. */
import { useLocation } from "wouter";
import { create } from "zustand";
import { answer, api } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";

const KEPT = "sutaru-tour";

export const useTour = create<{ job: string; set: (job: string) => void }>((set) => ({
  job: localStorage.getItem(KEPT) ?? "",
  set: (job) => {
    if (job) localStorage.setItem(KEPT, job);
    else localStorage.removeItem(KEPT);
    set({ job });
  },
}));

/** A job that is deleted is the tour's no more: it begins anew when it is taken again. */
export function leaveTourOf(job: string) {
  const { job: current, set } = useTour.getState();
  if (job === current) set("");
}

/** Begins the tour's job, or goes on with it where it is under way. */
export function useStartTour(): () => Promise<void> {
  const [, go] = useLocation();
  return async () => {
    const { job, set } = useTour.getState();
    try {
      const isThere = job && (await api.GET("/api/jobs/{job}", { params: { path: { job } } })).response.ok;
      const { id } = isThere ? { id: job } : await answer<{ id: string }>(api.POST("/api/tour", {}));
      set(id);
      client.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error);
    }
  };
}
