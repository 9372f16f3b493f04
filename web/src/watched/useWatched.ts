/** Watched folders, and what is done with them. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { answer, api, type FolderRule, type WatchedFolders } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";

const KEY = ["watched"];

export const useWatched = () =>
  useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => answer<WatchedFolders>(api.GET("/api/watched", { signal })),
    staleTime: 0,
  });

/** Makes a watched folder, gives one another rule, watches one no longer: each is answered by all there are then. */
export function useWatching() {
  const fields = {
    onSuccess: (all: WatchedFolders) => client.setQueryData(KEY, all),
    onError: complain,
  };
  const make = useMutation({
    mutationFn: (body: { name: string; rule: FolderRule }) =>
      answer<WatchedFolders>(api.POST("/api/watched", { body })),
    ...fields,
  });
  const alter = useMutation({
    mutationFn: ({ name, rule }: { name: string; rule: FolderRule }) =>
      answer<WatchedFolders>(api.PUT("/api/watched/{name}", { params: { path: { name } }, body: rule })),
    ...fields,
  });
  const leave = useMutation({
    mutationFn: (name: string) =>
      answer<WatchedFolders>(api.DELETE("/api/watched/{name}", { params: { path: { name } } })),
    ...fields,
  });
  return { make, alter, leave };
}
