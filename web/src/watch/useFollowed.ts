import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { fileNameOf, saveFile } from "../ui/files";
import type { Watched } from "./useWatched";

export type Stretch = Schemas["Stretch"];

const FOR_EVER = { staleTime: Number.POSITIVE_INFINITY, gcTime: 60_000 };

/** The way of a case that is followed, from its coming to its end. */
export function useWay({ study, number }: Watched, followed: number | null) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["way", study, number, followed],
    enabled: followed !== null,
    queryFn: () =>
      ask(
        api.POST("/api/replays/way", {
          params: { query: { number, case: followed ?? 1 } },
          body: study as unknown as Schemas["StudyDocument"],
        }),
      ),
  });
}

/** What of the logbook is told: of one case, at one step, by name. */
export interface Only {
  case?: number;
  step?: string;
}

/** What happened between two times, all or to one case or at one step. */
export function useLogbook({ study, number }: Watched, begins: number, ends: number, only: Only, isAsked: boolean) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["logbook", study, number, begins, ends, only],
    enabled: isAsked,
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.POST("/api/replays/logbook", {
          params: { query: { number, begins, ends, ...only } },
          body: study as unknown as Schemas["StudyDocument"],
        }),
      ),
  });
}

/** A member by its team, and its number in it, from 1. */
export interface FollowedMember {
  team: string;
  member: number;
}

/** What a member who is followed did between two times. */
export function useMemberTime({ study, number }: Watched, followed: FollowedMember, begins: number, ends: number) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["member", study, number, followed, begins, ends],
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.POST("/api/replays/member", {
          params: { query: { number, begins, ends, ...followed } },
          body: study as unknown as Schemas["StudyDocument"],
        }),
      ),
  });
}

/** Who waited for more than so many minutes at a step. */
export function useLongWaits({ study, number }: Watched, over: number | null, step: string | undefined) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["long waits", study, number, over, step],
    enabled: over !== null,
    queryFn: () =>
      ask(
        api.POST("/api/replays/waits", {
          params: { query: { number, over: over ?? 0, step } },
          body: study as unknown as Schemas["StudyDocument"],
        }),
      ),
  });
}

/** Saves what happened between two times as a file, as the command line writes it. */
export async function saveLog({ study, number }: Watched, begins: number, ends: number, kind: "csv" | "xes"): Promise<void> {
  const log: unknown = await ask(
    api.POST("/api/replays/log", {
      params: { query: { number, begins, ends, kind } },
      body: study as unknown as Schemas["StudyDocument"],
      parseAs: "blob",
    }),
  );
  saveFile(log as Blob, `${fileNameOf(study.name)}-log.${kind}`, kind === "csv" ? "text/csv" : "application/xml");
}
