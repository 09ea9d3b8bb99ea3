import type { StudyDocument } from "../document/types";

/** What speaks of steps, types, streams or teams, and goes with them. */
const REFERRING = ["deadlines", "spans", "skills", "measures", "targets", "observed", "board", "levers", "scenarios", "sizing"] as const;

/** Puts a flow with its types, streams and teams in place of what a study has, and takes away what spoke of the old ones. */
export function takeDraft(study: StudyDocument, draft: StudyDocument): void {
  const { case_types, streams, steps, teams, sources } = draft;
  for (const list of REFERRING) delete study[list];
  delete study.run.doors;
  delete study.run.precision;
  Object.assign(study, { case_types, streams, steps, teams, sources });
}
