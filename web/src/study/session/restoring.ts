import { api, ask, type Schemas } from "../../api/client";
import { filledIn, type StudyDocument } from "../document/types";
import { editWhole, happen, useStudy } from "./store";

/** The document of a version of a study. */
export async function documentOf(study: number, number: number): Promise<StudyDocument> {
  const found = await ask(api.GET("/api/studies/{study_id}/versions/{number}", { params: { path: { study_id: study, number } } }));
  return filledIn(found as unknown as Schemas["StudyDocument"]);
}

/** Makes an old version the newest one; the one of now stays in the history. */
export async function restoreVersion(number: number): Promise<void> {
  const document = await documentOf(useStudy.getState().id, number);
  happen({ type: "restoring", version: number });
  editWhole(`Restore version ${number}`, (draft) => {
    for (const key of Object.keys(draft) as (keyof StudyDocument)[]) if (!(key in document)) delete draft[key];
    Object.assign(draft, document);
  });
}
