import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import type { Run } from "../api/queries";
import { filledIn, type StudyDocument } from "../study/document/types";

/** The document that a run ran, which may not be the one that is open now. */
export function useRunStudy(run: Run | undefined): StudyDocument | undefined {
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
  return version.data ? filledIn(version.data as unknown as Schemas["StudyDocument"]) : undefined;
}
