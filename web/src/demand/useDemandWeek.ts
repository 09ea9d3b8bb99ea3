import { api, ask, type Schemas } from "../api/client";
import { useAsTyped } from "../pulse/useAsTyped";
import type { StudyDocument } from "../study/document/types";

export type DemandWeek = Schemas["DemandWeek"];

/** An ordinary week of the study as it is typed. */
export function useDemandWeek(study: StudyDocument) {
  return useAsTyped("demand", study, (body, signal) => ask(api.POST("/api/pulse/demand", { body, signal })));
}
