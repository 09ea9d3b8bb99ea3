import { nameOf } from "./parts";
import type { Need, Step, StudyDocument, Team } from "./types";

/** Who a step asks for at once; only steps where work is done ask for anybody. */
export const needsOf = (step: Step): Need[] => (step.kind === "serve" ? (step.needs ?? []) : []);

/** Whether a member of a team can meet a need. */
export const meets = (team: Team, need: Need) => need.team === team.id || Boolean(need.skill && team.skills?.includes(need.skill));

/** "2 Nurses + Doctors + skill Errands": as it is typed in a table too. */
export const needsInWords = (study: StudyDocument, needs: Need[]) => needs.map((need) => needInWords(study, need)).join(" + ");

function needInWords(study: StudyDocument, need: Need): string {
  const who = need.skill ? `skill ${nameOf(study, "skill", need.skill)}` : nameOf(study, "team", need.team ?? "");
  return (need.count ?? 1) > 1 ? `${need.count} ${who}` : who;
}
