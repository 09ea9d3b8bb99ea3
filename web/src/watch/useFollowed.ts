import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
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

/** What happened between two times, all or to one case. */
export function useLogbook({ study, number }: Watched, begins: number, ends: number, only: number | null, isAsked: boolean) {
  return useQuery({
    ...FOR_EVER,
    queryKey: ["logbook", study, number, begins, ends, only],
    enabled: isAsked,
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.POST("/api/replays/logbook", {
          params: { query: { number, begins, ends, case: only ?? undefined } },
          body: study as unknown as Schemas["StudyDocument"],
        }),
      ),
  });
}
