import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import type { Run } from "../api/queries";

/** Stops a run, of which what is done is kept. */
export function useStop(run: Run) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => ask(api.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: run.id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["runs", run.study] }),
  });
}
