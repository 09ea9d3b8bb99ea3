import { QueryClient, useQuery } from "@tanstack/react-query";
import { ApiError, api, ask, mayDoSoon, type Schemas } from "./client";

const PAUSE_WHILE_AWAY = 1500;

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (count, error) => mayDoSoon(error) || (count < 2 && !(error instanceof ApiError && error.status >= 400 && error.status < 500)),
      retryDelay: (count, error) => (mayDoSoon(error) ? PAUSE_WHILE_AWAY : 500 * 2 ** count),
      networkMode: "always",
    },
  },
});

export type Run = Schemas["RunEntry"];

export const isOver = (run: Run) => run.state !== "waiting" && run.state !== "running";

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => ask(api.GET("/api/session")) });
}

export function useRuns(studyId: number) {
  return useQuery({
    queryKey: ["runs", studyId],
    queryFn: () => ask(api.GET("/api/studies/{study_id}/runs", { params: { path: { study_id: studyId } } })),
    refetchInterval: (query) => (query.state.data?.some((run) => !isOver(run)) ? 300 : false),
  });
}

export function useFigures(run: Run | undefined) {
  return useQuery({
    queryKey: ["figures", run?.id, run?.done],
    enabled: run !== undefined && run.done > 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/figures", { params: { path: { run_id: run?.id ?? 0 } } })),
  });
}
