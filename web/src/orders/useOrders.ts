/** Orders, asked for again while the lab is at work on one. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { answer, api, type LabSays, type NewOrder, type OrderState } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { moving } from "./states";

const AGAIN_MS = 4000;

export function useOrders(job = "") {
  return useQuery({
    queryKey: ["orders", job],
    queryFn: ({ signal }) =>
      answer<OrderState[]>(api.GET("/api/orders", { signal, params: { query: { job } } })),
    refetchInterval: (query) => (moving(query.state.data) ? AGAIN_MS : false),
  });
}

export const useLab = (isWanted: boolean) =>
  useQuery({
    queryKey: ["lab"],
    queryFn: ({ signal }) => answer<LabSays>(api.GET("/api/lab", { signal })),
    enabled: isWanted,
    staleTime: 5000,
  });

const settled = () => client.invalidateQueries({ queryKey: ["orders"] });

/** Orders, sends again what did not arrive, cancels, reorders. */
export function useOrdering() {
  const order = useMutation({
    mutationFn: (body: NewOrder) => answer<OrderState>(api.POST("/api/orders", { body })),
    onError: complain,
    onSettled: settled,
  });
  const send = useMutation({
    mutationFn: (id: string) =>
      answer<OrderState>(api.POST("/api/orders/{order}/send", { params: { path: { order: id } } })),
    onError: complain,
    onSettled: settled,
  });
  const again = useMutation({
    mutationFn: ({ id, token }: { id: string; token: string }) =>
      answer<OrderState>(
        api.POST("/api/orders/{order}/again", { params: { path: { order: id } }, body: { token } }),
      ),
    onError: complain,
    onSettled: settled,
  });
  const cancel = useMutation({
    mutationFn: (id: string) =>
      answer<OrderState>(api.POST("/api/orders/{order}/cancel", { params: { path: { order: id } } })),
    onError: complain,
    onSettled: settled,
  });
  return { order, send, again, cancel };
}
