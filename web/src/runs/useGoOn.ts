import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import type { Run } from "../api/queries";

/** How many replications were wanted of a scenario of a run. */
export const wantedOf = (run: Run) => Math.max(...run.parts.map((part) => part.replications));

/** Goes on with a run until each of its scenarios has so many replications. */
export function useGoOn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ run, replications }: { run: Run; replications: number }) =>
      ask(api.POST("/api/runs/{run_id}/more", { params: { path: { run_id: run.id } }, body: { replications } })),
    onSuccess: (run) => client.invalidateQueries({ queryKey: ["runs", run.study] }),
    onError: (error) => toast.error(error.message),
  });
}
