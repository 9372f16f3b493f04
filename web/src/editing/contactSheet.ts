/** A contact sheet of a job's pile: a job of its own, which is opened. */
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";

/** ``before``: what is still on its way to the server, and belongs into it. */
export function useContactSheet(job: string, before?: () => Promise<unknown>): () => Promise<void> {
  const [, go] = useLocation();
  return async () => {
    try {
      await before?.();
      const { id } = await answer<{ id: string }>(
        api.POST("/api/jobs/{job}/contact", {
          params: { path: { job } },
          body: { photos: [], columns: 5, width_mm: 210, height_mm: 297 },
        }),
      );
      client.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error);
    }
  };
}
