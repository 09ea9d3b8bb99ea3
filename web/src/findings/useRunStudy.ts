import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, ask, type Schemas } from "../api/client";
import type { Run, RunPart } from "../api/queries";
import { filledIn, type StudyDocument } from "../study/document/types";
import { seenIn } from "../study/scenarios/scenarios";

/** The document that a scenario of a run ran, which may not be the one that is open now. */
export function useRunStudy(run: Run | undefined, part: RunPart | undefined): StudyDocument | undefined {
  const version = useQuery({
    queryKey: ["version", run?.study, run?.version],
    enabled: run !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(
        api.GET("/api/studies/{study_id}/versions/{number}", {
          params: { path: { study_id: run?.study ?? 0, number: run?.version ?? 0 } },
        }),
      ),
  });
  const { data } = version;
  const scenario = part?.scenario ?? null;
  return useMemo(
    () => (data ? seenIn(filledIn(data as unknown as Schemas["StudyDocument"]), scenario).document : undefined),
    [data, scenario],
  );
}
