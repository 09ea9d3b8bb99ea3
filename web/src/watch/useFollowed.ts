import { useQueries, useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { fileNameOf, saveFile } from "../ui/files";
import { askedOf, type Side, type Watched } from "./useWatched";

export type Stretch = Schemas["Stretch"];
export type Way = Schemas["Way"];

const FOR_EVER = { staleTime: Number.POSITIVE_INFINITY, gcTime: 60_000 };

/** The ways of a case that is followed, one of each that is watched, from its coming to its end. */
export function useWays(sides: Side[], number: number) {
  return useQueries({
    queries: sides.map(({ watched: { study, number: replication } }) => ({
      ...FOR_EVER,
      queryKey: ["way", study, replication, number],
      queryFn: () => ask(api.POST("/api/replays/way", askedOf(study, { number: replication, case: number }))),
    })),
  });
}

/** What of the logbook is told: of one case, at one step by its name, of one member, of one kind. */
export interface Only {
  case?: number;
  step?: string;
  team?: string;
  member?: number;
  kind?: Schemas["LogKind"];
}

/** What happened between two times, all or some of it. */
export function useLogbook({ study, number }: Watched, begins: number, ends: number, only: Only, isAsked: boolean) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["logbook", study, number, begins, ends, only],
    enabled: isAsked,
    placeholderData: (before) => before,
    queryFn: () => ask(api.POST("/api/replays/logbook", askedOf(study, { number, begins, ends, ...only }))),
  });
}

/** A member of one of those that are watched, by its team and its number in it, from 1. */
export interface FollowedMember {
  side: number;
  team: string;
  member: number;
}

/** What a member who is followed did between two times. */
export function useMemberTime({ study, number }: Watched, { team, member }: FollowedMember, begins: number, ends: number) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["member", study, number, team, member, begins, ends],
    placeholderData: (before) => before,
    queryFn: () => ask(api.POST("/api/replays/member", askedOf(study, { number, begins, ends, team, member }))),
  });
}

/** Who waited for more than so many minutes at a step. */
export function useLongWaits({ study, number }: Watched, over: number | null, step: string | undefined, type: string | undefined) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["long waits", study, number, over, step, type],
    enabled: over !== null,
    queryFn: () => ask(api.POST("/api/replays/waits", askedOf(study, { number, over: over ?? 0, step, type }))),
  });
}

/** Saves what happened between two times as a file, as the command line writes it. */
export async function saveLog({ study, number }: Watched, begins: number, ends: number, kind: "csv" | "xes"): Promise<void> {
  const log: unknown = await ask(api.POST("/api/replays/log", { ...askedOf(study, { number, begins, ends, kind }), parseAs: "blob" }));
  saveFile(log as Blob, `${fileNameOf(study.name)}-log.${kind}`, kind === "csv" ? "text/csv" : "application/xml");
}
