import { useQuery } from "@tanstack/react-query";
import { api, ask, mayDoSoon } from "../api/client";
import type { Run, RunPart } from "../api/queries";

/** The scenario of a run that is looked at. */
export interface Shown {
  run: Run;
  part: RunPart;
}

/** Keeps the picture that is there until the next is known; asked for anew where more replications are done. */
const keep = { placeholderData: <T>(before: T) => before };

export function useWeeks({ run, part }: Shown, quantity: string[]) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["week", run.id, scenario, done, quantity],
    enabled: quantity.length > 0,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/week", { params: { path: { run_id: run.id }, query: { scenario, quantity } } })),
  }).data;
}

export function useSpread({ run, part }: Shown, quantity: string) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["spread", run.id, scenario, done, quantity],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/spread", { params: { path: { run_id: run.id }, query: { scenario, quantity } } })),
  }).data;
}

export function useSteps({ run, part }: Shown) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["steps", run.id, scenario, done],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/steps", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
}

export function useGroups({ run, part }: Shown) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["groups", run.id, scenario, done],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/groups", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
}

/** What each replication says of a figure. */
export function useReplications({ run, part }: Shown, address: string) {
  const { scenario, done } = part;
  return useQuery({
    queryKey: ["replications", run.id, scenario, done, address],
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/replications", { params: { path: { run_id: run.id }, query: { scenario, address: [address] } } })),
  }).data;
}

/** Figures as they became with more and more replications. */
export function useNarrowed({ run, part }: Shown, address: string[]) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["narrowed", run.id, scenario, done, address],
    enabled: address.length > 0,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/narrowed", { params: { path: { run_id: run.id }, query: { scenario, address } } })),
  }).data;
}

export function useCourse({ run, part }: Shown) {
  const { scenario, done } = part;
  return useQuery({
    ...keep,
    queryKey: ["course", run.id, scenario, done],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/course", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
}

/** How those wait who come in an hour of the week, counted from Monday's midnight; replications are drawn again for it. */
export function useHour({ run, part }: Shown, quantity: string, hour: number) {
  const { scenario, done } = part;
  return useQuery({
    queryKey: ["hour", run.id, scenario, done, quantity, hour],
    staleTime: Number.POSITIVE_INFINITY,
    retry: mayTryAgain,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/hour", { params: { path: { run_id: run.id }, query: { scenario, quantity, hour } } })),
  });
}

const TRIES = 5;
const mayTryAgain = (tried: number, error: Error) => tried < TRIES && mayDoSoon(error);

export function useLevels({ run, part: { scenario } }: Shown) {
  return useQuery({
    queryKey: ["levels", run.id, scenario],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/levels", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
}

/** A line, or members, over the run; replications are drawn again for it. */
export function useLevel({ run, part }: Shown, quantity: string) {
  const { scenario, done } = part;
  return useQuery({
    queryKey: ["level", run.id, scenario, done, quantity],
    enabled: quantity !== "",
    staleTime: Number.POSITIVE_INFINITY,
    retry: mayTryAgain,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/level", { params: { path: { run_id: run.id }, query: { scenario, quantity } } })),
  });
}
