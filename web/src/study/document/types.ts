import type { Schemas } from "../../api/client";

export type Distribution = Schemas["Distribution"];
export type Work = Schemas["Work"];
export type WorkByType = Schemas["WorkByType"];
export type CaseType = Schemas["CaseType"];
export type Stream = Schemas["Stream"];
export type Step = Schemas["Step"];
export type Serve = Schemas["Serve"];

export type Link = Schemas["Link"];
export type Team = Schemas["Team"];
export type Need = Schemas["Need"];

export type Trait = Schemas["Trait"];
type SetRun = "length" | "warm_up" | "replications" | "confidence" | "seed";

/** How a study is run; what has a value of its own in every study is always there. */
export type RunSettings = Schemas["RunSettings"] & Required<Pick<Schemas["RunSettings"], SetRun>>;
export type StepKind = Step["kind"];

/** A study document with its lists filled in, as it is edited here. */
export interface StudyDocument extends Omit<Schemas["StudyDocument"], "case_types" | "streams" | "steps" | "teams" | "run"> {
  case_types: CaseType[];
  streams: Stream[];
  steps: Step[];
  teams: Team[];
  run: RunSettings;
}

export const RUN: RunSettings = { length: "4 wk", warm_up: "0 min", replications: 30, confidence: 0.95, seed: 1 };

export function filledIn(study: Schemas["StudyDocument"]): StudyDocument {
  return {
    ...study,
    case_types: study.case_types ?? [],
    streams: study.streams ?? [],
    steps: study.steps ?? [],
    teams: study.teams ?? [],
    run: { ...RUN, ...study.run },
  };
}

/** When a run of a study begins. */
export const startOf = (study: StudyDocument) => study.start ?? "2027-03-01T08:00";

export function isByType(work: Work): work is WorkByType {
  return typeof work === "object" && "otherwise" in work;
}

export function linksOf(step: Step): Link[] {
  return step.kind === "exit" ? [] : (step.next ?? []);
}
