import { QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
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

/** Whether a run is being drawn again, so that it tells own measures. */
export const isDrawnAgain = ({ redrawn }: Run) => redrawn !== null && !redrawn.problem;

export function useRuns(studyId: number) {
  return useQuery({
    queryKey: ["runs", studyId],
    queryFn: () => ask(api.GET("/api/studies/{study_id}/runs", { params: { path: { study_id: studyId } } })),
    refetchInterval: (query) => (query.state.data?.some((run) => !isOver(run) || isDrawnAgain(run)) ? 200 : false),
  });
}

export type Outline = Schemas["Outline"];

export type Search = Schemas["SearchEntry"];
export type Answer = Schemas["Answer"];

export const isSearching = (search: Search) => search.finished_at === null;

/** The searches of a study for its cheapest staffing, the latest first; asked for anew once another version is saved. */
export function useSearches(studyId: number, version: number) {
  const client = useQueryClient();
  // biome-ignore lint/correctness/useExhaustiveDependencies: with another version, what was found may be of a study that has changed.
  useEffect(() => void client.invalidateQueries({ queryKey: ["searches", studyId] }), [client, studyId, version]);
  return useQuery({
    queryKey: ["searches", studyId],
    queryFn: () => ask(api.GET("/api/studies/{study_id}/searches", { params: { path: { study_id: studyId } } })),
    refetchInterval: (query) => (query.state.data?.some(isSearching) ? 500 : false),
  });
}

/** What a search found; of one that is still going on, nothing. */
export function useAnswer(search: Search | undefined) {
  return useQuery({
    queryKey: ["answer", search?.id, search?.finished_at],
    enabled: search !== undefined && (search.state === "done" || search.state === "stopped"),
    queryFn: () => ask(api.GET("/api/searches/{search_id}/answer", { params: { path: { search_id: search?.id ?? 0 } } })),
  });
}

export type RunPart = Run["parts"][number];

/** What a run has done of a scenario, or of the study as it is; undefined where that is nothing. */
export const partOf = (run: Run, scenario: string | null) => run.parts.find((part) => part.scenario === (scenario ?? "") && part.done > 0);

/** What a scenario of a run says. */
export function useFindings(run: Run | undefined, part: RunPart | undefined) {
  const scenario = part?.scenario;
  return useQuery({
    queryKey: ["findings", run?.id, scenario, part?.done],
    enabled: part !== undefined && part.done > 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/findings", { params: { path: { run_id: run?.id ?? 0 }, query: { scenario } } })),
  });
}

/** Which measures are compared, of which more or less is better where that is not plain, and what is drawn. */
export interface Measures {
  address?: string[];
  more_is_better?: string[];
  less_is_better?: string[];
  across?: string;
  up?: string;
  lever?: string[];
}

/** Scenarios side by side, each named as "RUN:SCENARIO"; asked for anew where `when` changes. */
export function useComparison(study: number, columns: { column: string[]; without?: string[] }, when: unknown, asked: Measures = {}) {
  return useQuery({
    queryKey: ["comparison", study, columns, asked, when],
    enabled: columns.column.length > 0,
    placeholderData: (before) => before,
    queryFn: () =>
      ask(api.GET("/api/studies/{study_id}/comparison", { params: { path: { study_id: study }, query: { ...columns, ...asked } } })),
  });
}

/** What is the same for every study: shapes of distributions, kinds of figures, thresholds. */
export function useCatalogue() {
  return useQuery({ queryKey: ["catalogue"], staleTime: Number.POSITIVE_INFINITY, queryFn: () => ask(api.GET("/api/catalogue")) }).data;
}

export type Measure = Schemas["Measure"];
export type Described = Schemas["Described"];

/** A distribution's mean, middle and curve, or those of another shape with about its mean. */
export function describe(value: unknown, measure: Measure, shape?: string): Promise<Described> {
  return ask(api.POST("/api/distributions", { body: { value, measure, shape } }));
}

/** What a distribution looks like while it is typed; the one before stays until the next is known. */
export function useDescribed(value: unknown, measure: Measure) {
  return useQuery({
    queryKey: ["distribution", measure, value],
    enabled: typeof value === "object",
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => describe(value, measure),
  });
}
