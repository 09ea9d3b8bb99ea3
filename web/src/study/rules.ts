import type { Schemas } from "../api/client";
import { stepById } from "./flow";
import type { Link, Step, StudyDocument } from "./types";
import { linksOf } from "./types";

type Rule = Schemas["Rule"];
type Condition = Schemas["Condition"];

const RELATIONS: Record<Condition["is"], string> = {
  equal: "is",
  not: "is not",
  under: "is under",
  "at-most": "is at most",
  over: "is over",
  "at-least": "is at least",
  in: "is one of",
};

/** What a rule asks, in a few words. */
export function ruleInWords(rule: Rule, study: StudyDocument): string {
  const clauses = (rule.all ?? rule.any ?? []).map((clause) => ("fact" in clause ? conditionInWords(clause, study) : `(${ruleInWords(clause, study)})`));
  return clauses.join(rule.all ? " and " : " or ");
}

function conditionInWords(condition: Condition, study: StudyDocument): string {
  const [kind = "", about = ""] = condition.fact.split(/:(.*)/s);
  const values = [condition.value].flat().map((value) => (kind === "type" ? (study.case_types.find((type) => type.id === value)?.name ?? value) : value));
  return `${factInWords(kind, about, study)} ${RELATIONS[condition.is]} ${values.join(" or ")}`;
}

function factInWords(kind: string, about: string, study: StudyDocument): string {
  const step = stepById(study, about)?.name ?? about;
  switch (kind) {
    case "trait":
      return study.traits?.find((trait) => trait.id === about)?.name ?? about;
    case "visits":
      return `the number of visits to ${step}`;
    case "line":
      return `the line at ${step}`;
    case "free":
      return `the number of free ${study.teams.find((team) => team.id === about)?.name ?? about}`;
    case "in-system":
      return "the time since arrival in minutes";
    case "waited-here":
      return "the wait here in minutes";
    case "waited":
      return "the wait so far in minutes";
    case "time-of-day":
      return "the time of day";
    case "weekday":
      return "the day";
    default:
      return "the case type";
  }
}

/** When a way is taken, where its step's ways do not part by shares. */
export function whenTaken(step: Step, link: Link, study: StudyDocument): string {
  if (step.kind === "fork") return link.chance == null ? "always" : `in ${Math.round(link.chance * 100)} % of the cases`;
  if (step.kind === "choose" && step.pick === "shortest-line") return "if fewest wait there,";
  if (step.kind === "choose" && step.pick === "in-turn") return "in turn";
  if (link.when) return `if ${ruleInWords(link.when, study)},`;
  return linksOf(step).length > 1 ? "otherwise" : "all";
}
