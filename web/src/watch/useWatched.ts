import { type UseQueryResult, useQueries, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { ApiError, api, ask, problemsIn, type Schemas } from "../api/client";
import { type Outline, useRuns } from "../api/queries";
import { filledIn, type StudyDocument } from "../study/document/types";
import { BASELINE_NAME, seenIn } from "../study/scenarios/scenarios";
import { useStudy } from "../study/session/store";
import { type Piece, readPiece } from "./piece";
import { Player } from "./player";
import { Reel } from "./reel";

/** What is watched: a scenario as it was run or as it is now, which replication of it, and which are worth watching. */
export interface Watched {
  study: StudyDocument;
  scenario: string;
  name: string;
  number: number;
  candidates: Schemas["WorthWatching"][];
  isOfRun: boolean;
}

/** One of those that are watched beside each other, at a glance. */
export interface Side {
  watched: Watched;
  outline: Outline;
}

/** The scenarios that can be watched, "" for the study as it is: those of the run that is watched, else all there are. */
export function useWatchable(): { scenario: string; name: string }[] {
  const [params] = useSearchParams();
  const id = useStudy((state) => state.id);
  const scenarios = useStudy((state) => state.whole.scenarios);
  const runs = useRuns(id);
  const run = params.get("run");
  if (run !== null) return runs.data?.find((each) => each.id === Number(run))?.parts.filter(({ done }) => done > 0) ?? [];
  return [{ scenario: "", name: BASELINE_NAME }, ...(scenarios ?? []).map(({ id: scenario, name }) => ({ scenario, name }))];
}

interface Found<T> {
  found: T | null;
  error: Error | null;
}

/** What the address of the page asks to be watched: a scenario of a run, or the study as it is now, and what is beside it. */
function useWatched(): Found<Watched[]> {
  const [params] = useSearchParams();
  const now = useStudy((state) => state.scenario) ?? "";
  const names = useWatchable();
  const isOfRun = params.get("run") !== null;
  const scenario = isOfRun ? (params.get("scenario") ?? "") : now;
  const nameOf = (wanted: string | null) => names.find((each) => each.scenario === wanted)?.name;
  const asked = params.get("beside");
  const beside = asked !== scenario && nameOf(asked) !== undefined ? asked : null;
  const first = useDocument(scenario);
  const other = useDocument(beside);
  const replication = params.get("replication");
  const [name, besideName] = [nameOf(scenario), nameOf(beside) ?? ""];
  const found = useMemo(() => {
    if (!first.found || name === undefined || (beside !== null && !other.found)) return null;
    const { candidates } = first.found;
    const number = replication === null ? (candidates[0]?.number ?? 0) : Number(replication) - 1;
    const watched = { ...first.found, scenario, name, number, isOfRun };
    return other.found && beside !== null ? [watched, { ...other.found, scenario: beside, name: besideName, number, isOfRun }] : [watched];
  }, [first.found, other.found, scenario, beside, name, besideName, replication, isOfRun]);
  return { found, error: first.error ?? other.error };
}

/** The document of a scenario, as the run that is watched ran it or as it is now. */
function useDocument(scenario: string | null): Found<Pick<Watched, "study" | "candidates">> {
  const [params] = useSearchParams();
  const run = params.get("run");
  const seen = useStudy((state) => (state.scenario ?? "") === scenario && state.document);
  const whole = useStudy((state) => state.whole);
  const { data, error } = useQuery({
    queryKey: ["replay", run, scenario],
    enabled: run !== null && scenario !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/replay", { params: { path: { run_id: Number(run) }, query: { scenario: scenario ?? undefined } } })),
  });
  const found = useMemo(() => {
    if (scenario === null) return null;
    if (run === null) return { study: seen || seenIn(whole, scenario || null).document, candidates: [] };
    return data ? { study: filledIn(data.document as unknown as Schemas["StudyDocument"]), candidates: data.candidates } : null;
  }, [scenario, run, seen, whole, data]);
  return { found, error };
}

const outlinesIn = (results: UseQueryResult<Outline>[]) => ({
  outlines: results.map(({ data }) => data),
  error: results.find(({ error }) => error)?.error ?? null,
});

/** All that is watched with each replication at a glance, once all have come. */
export function useSides(): Found<Side[]> {
  const { found: watched, error } = useWatched();
  const outlined = useQueries({
    queries: (watched ?? []).map(({ study, number }) => ({
      queryKey: ["outline", study, number],
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 60_000,
      queryFn: ({ signal }: { signal: AbortSignal }) => ask(api.POST("/api/replays/outline", { ...askedOf(study, { number }), signal })),
    })),
    combine: outlinesIn,
  });
  const sides = useMemo(() => {
    const all = (watched ?? []).flatMap((each, n) => {
      const outline = outlined.outlines[n];
      return outline ? [{ watched: each, outline }] : [];
    });
    return watched && all.length === watched.length ? all : null;
  }, [watched, outlined]);
  return { found: sides, error: error ?? outlined.error };
}

/** A request about a replication of a document: the document goes with it. */
export function askedOf<Query>(study: StudyDocument, query: Query) {
  return { params: { query }, body: study as unknown as Schemas["StudyDocument"] };
}

/** Where each study was watched last, so that after an edit one goes on from the same moment. */
const lastMoments = new Map<number, number>();

/** A player of what is watched, on one clock, from the moment at which the study was watched last. */
export function usePlayer(sides: Side[] | null): { player: Player | null; problem: string } {
  const id = useStudy((state) => state.id);
  const [problem, setProblem] = useState("");
  const player = useMemo(() => {
    const first = sides?.[0]?.outline;
    if (!sides || !first) return null;
    const onCome = (error?: unknown) => {
      setProblem(error instanceof Error ? error.message : "");
      made.come();
    };
    const reels = sides.map(({ watched, outline }) => new Reel(outline, (begins, ends) => fetchPiece(watched, begins, ends), onCome));
    const isCalm = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const ends = Math.max(...sides.map(({ outline }) => outline.ends));
    const made = new Player(reels, ends, Math.min(lastMoments.get(id) ?? firstMoment(first), ends), isCalm);
    return made;
  }, [sides, id]);
  useEffect(
    () => () => {
      if (!player) return;
      lastMoments.set(id, player.moment);
      player.play(false);
    },
    [player, id],
  );
  return { player, problem };
}

/** Somebody comes inside first then. */
function firstMoment({ inside, interval }: Outline): number {
  return (
    Math.max(
      0,
      inside.findIndex((many) => many > 0),
    ) * interval
  );
}

async function fetchPiece({ study, number }: Watched, begins: number, ends: number): Promise<Piece> {
  const token = document.cookie.match(/csrftoken=([^;]+)/)?.[1] ?? "";
  const response = await fetch(`/api/replays/piece?number=${number}&begins=${begins}&ends=${ends}`, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRFToken": token },
    body: JSON.stringify(study),
  });
  if (!response.ok) throw new ApiError(response.status, problemsIn(await response.json().catch(() => null)));
  return readPiece(await response.arrayBuffer());
}
