import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { ApiError, api, ask, problemsIn, type Schemas } from "../api/client";
import type { Outline } from "../api/queries";
import { filledIn, type StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { type Piece, readPiece } from "./piece";
import { Player } from "./player";
import { Reel } from "./reel";

/** What is watched: a study as it was run or as it is now, which replication of it, and which are worth watching. */
export interface Watched {
  study: StudyDocument;
  number: number;
  candidates: Schemas["WorthWatching"][];
  isOfRun: boolean;
}

/** What the address of the page asks to be watched: a scenario of a run, or the study as it is now. */
export function useWatched(): Watched | null {
  const [params] = useSearchParams();
  const now = useStudy((state) => state.document);
  const run = params.get("run");
  const scenario = params.get("scenario") ?? "";
  const asked = params.get("replication");
  const found = useQuery({
    queryKey: ["replay", run, scenario],
    enabled: run !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/replay", { params: { path: { run_id: Number(run) }, query: { scenario: scenario || undefined } } })),
  });
  const { data } = found;
  return useMemo(() => {
    if (run === null) return { study: now, number: Number(asked ?? 1) - 1, candidates: [], isOfRun: false };
    if (!data) return null;
    const { candidates } = data;
    const number = asked === null ? (candidates[0]?.number ?? 0) : Number(asked) - 1;
    return { study: filledIn(data.document as unknown as Schemas["StudyDocument"]), number, candidates, isOfRun: true };
  }, [run, now, data, asked]);
}

/** A replication at a glance. */
export function useOutline(watched: Watched | null) {
  return useQuery({
    queryKey: ["outline", watched?.study, watched?.number],
    enabled: watched !== null,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    queryFn: ({ signal }) =>
      ask(
        api.POST("/api/replays/outline", {
          params: { query: { number: watched?.number ?? 0 } },
          body: watched?.study as unknown as Schemas["StudyDocument"],
          signal,
        }),
      ),
  });
}

/** Where each study was watched last, so that after an edit one goes on from the same moment. */
const lastMoments = new Map<number, number>();

/** A player of what is watched, from the moment at which the study was watched last. */
export function usePlayer(watched: Watched | null, outline: Outline | undefined): { player: Player | null; problem: string } {
  const id = useStudy((state) => state.id);
  const [problem, setProblem] = useState("");
  const player = useMemo(() => {
    if (!watched || !outline) return null;
    const fetch = (begins: number, ends: number) => fetchPiece(watched, begins, ends);
    const onCome = (error?: unknown) => {
      setProblem(error instanceof Error ? error.message : "");
      made.come();
    };
    const reel = new Reel(outline, fetch, onCome);
    const isCalm = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const first = lastMoments.get(id) ?? firstMoment(outline);
    const made = new Player(reel, outline.ends, Math.min(first, outline.ends), isCalm);
    return made;
  }, [watched, outline, id]);
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
