import type { Schemas } from "../../api/client";
import { nameOf, type PartKind, partsOf } from "../document/parts";
import type { Link, Step, StudyDocument } from "../document/types";
import { linksOf } from "../document/types";

type Rule = Schemas["Rule"];
type Condition = Schemas["Condition"];

export const RELATIONS: Record<Condition["is"], string> = {
  equal: "is",
  not: "is not",
  under: "is under",
  "at-most": "is at most",
  over: "is over",
  "at-least": "is at least",
  in: "is one of",
};

/** The facts that a rule may ask for, and what each is about. */
export const FACTS = [
  { kind: "type", words: "the case type", about: null },
  { kind: "trait", words: "", about: "trait" },
  { kind: "message", words: "the message that came", about: null },
  { kind: "in-system", words: "the time since arrival", about: null },
  { kind: "waited-here", words: "the wait here", about: null },
  { kind: "waited", words: "the wait so far", about: null },
  { kind: "visits", words: "the number of visits to", about: "step" },
  { kind: "line", words: "the line at", about: "step" },
  { kind: "free", words: "the number of free", about: "team" },
  { kind: "time-of-day", words: "the time of day", about: null },
  { kind: "weekday", words: "the day", about: null },
] as const satisfies { kind: string; words: string; about: PartKind | null }[];

/** Where cases may stand in a line. */
const WITH_LINE: Step["kind"][] = ["serve", "signal", "gather", "join"];

/** What can be told at any moment, without a case. */
export const OF_THE_MOMENT = ["time-of-day", "weekday", "line", "free"] as const;

/** Everything in a study that a rule may ask for, of some kinds. */
export function factsOf(study: StudyDocument, only?: readonly FactKind[]): { fact: string; words: string }[] {
  const isAsked = (kind: FactKind, id: string) => {
    const step = kind === "line" || kind === "visits" ? study.steps.find((each) => each.id === id) : undefined;
    return !step || (kind === "line" ? WITH_LINE.includes(step.kind) : step.kind !== "exit");
  };
  return FACTS.filter(({ kind }) => !only || only.includes(kind)).flatMap(({ kind, words, about }) => {
    if (!about) return [{ fact: kind as string, words: words as string }];
    const parts = partsOf(study, about).filter((part) => isAsked(kind, part.id));
    return parts.map((part) => ({ fact: `${kind}:${part.id}`, words: `${words} ${part.name}`.trim() }));
  });
}

export type FactKind = (typeof FACTS)[number]["kind"];

const ORDERED: Condition["is"][] = ["equal", "not", "under", "at-most", "over", "at-least"];

/** How a fact may be compared: names only for being equal or one of several, numbers by their order. */
export function relationsFor(study: StudyDocument, fact: string): Condition["is"][] {
  const [kind = "", about = ""] = fact.split(/:(.*)/s);
  const trait = study.traits?.find((each) => each.id === about);
  const hasNames = kind === "type" || kind === "message" || kind === "weekday" || (kind === "trait" && (trait?.values?.length ?? 0) > 0);
  return hasNames ? ["equal", "not", "in"] : ORDERED;
}

/** A condition to begin with: on the case type where there is one, else on the time since arrival. */
export function freshCondition(study: StudyDocument, fact?: string): Condition {
  fact ??= study.case_types.length > 0 ? "type" : "in-system";
  const [kind = "", about = ""] = fact.split(/:(.*)/s);
  const trait = study.traits?.find((each) => each.id === about);
  switch (kind) {
    case "type":
      return { fact, is: "equal", value: study.case_types[0]?.id ?? "" };
    case "message":
      return { fact, is: "equal", value: study.steps[0]?.id ?? "" };
    case "weekday":
      return { fact, is: "equal", value: "mon" };
    case "trait":
      return trait?.values?.[0] ? { fact, is: "equal", value: trait.values[0] } : { fact, is: "over", value: 0 };
    case "time-of-day":
      return { fact, is: "at-least", value: "12:00" };
    case "visits":
    case "line":
    case "free":
      return { fact, is: "at-least", value: 1 };
    default:
      return { fact, is: "over", value: "30 min" };
  }
}

/** What a rule asks, in a few words. */
export function ruleInWords(rule: Rule, study: StudyDocument): string {
  const clauses = (rule.all ?? rule.any ?? []).map((clause) =>
    "fact" in clause ? conditionInWords(clause, study) : `(${ruleInWords(clause, study)})`,
  );
  return clauses.join(rule.all ? " and " : " or ");
}

function conditionInWords(condition: Condition, study: StudyDocument): string {
  const [kind = "", about = ""] = condition.fact.split(/:(.*)/s);
  const named = kind === "type" ? kind : kind === "message" ? "step" : null;
  const values = [condition.value].flat().map((value) => (named ? nameOf(study, named, String(value)) : value));
  return `${factInWords(kind, about, study)} ${RELATIONS[condition.is]} ${values.join(" or ")}`;
}

function factInWords(kind: string, about: string, study: StudyDocument): string {
  const fact = FACTS.find((each) => each.kind === kind);
  return [fact?.words, fact?.about ? nameOf(study, fact.about, about) : ""].filter(Boolean).join(" ");
}

/** When a way is taken, where its step's ways do not part by shares. */
export function whenTaken(step: Step, link: Link, study: StudyDocument): string {
  if (step.kind === "fork") return link.chance == null ? "always" : `in ${Math.round(link.chance * 100)} % of the cases`;
  if (step.kind === "choose" && step.pick === "shortest-line") return "if fewest wait there,";
  if (step.kind === "choose" && step.pick === "in-turn") return "in turn";
  if (link.when) return `if ${ruleInWords(link.when, study)},`;
  return linksOf(step).length > 1 ? "otherwise" : "all";
}
