import { api, ask } from "../api/client";
import { useAsTyped } from "../pulse/useAsTyped";
import type { StudyDocument } from "../study/document/types";

/** What the work of an ordinary week asks of each team of the study as it is typed, and what of it each need of a step. */
export function useLoad(study: StudyDocument) {
  return useAsTyped("load", study, (body, signal) => ask(api.POST("/api/pulse/load", { body, signal })));
}
