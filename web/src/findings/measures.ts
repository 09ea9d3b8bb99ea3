import type { Schemas } from "../api/client";
import { type PartKind, partsOf } from "../study/document/parts";
import type { Step, StudyDocument } from "../study/document/types";
import { freshId } from "../study/edits/links";
import { freshCondition } from "../study/values/rules";

export type Measure = Schemas["OwnMeasure"];
export type Form = "share" | "count" | "time" | "mean" | "max";

interface Option {
  value: string;
  label: string;
}

export const FORMS: { value: Form; label: string; offer: string }[] = [
  { value: "share", label: "The share of", offer: "A share of cases, of visits or of the time" },
  { value: "count", label: "The number of", offer: "A number of cases or visits" },
  { value: "time", label: "The time from", offer: "A time between two points" },
  { value: "mean", label: "The mean of", offer: "The mean of a level over time" },
  { value: "max", label: "The most of", offer: "The most of a level over time" },
];

export const ALL_CASES = "type/all";
export const TIME = "time";

export function formOf(measure: Measure): Form {
  if (measure.share) return "share";
  if (measure.count) return "count";
  return measure.time ? "time" : (measure.level?.statistic ?? "mean");
}

/** What a measure is of when it takes a form; what it was of stays where that can be. */
export function inForm(study: StudyDocument, form: Form, before?: Measure): Omit<Measure, "id" | "name"> {
  const asked = before?.share?.where ?? before?.count?.where ?? { all: [freshCondition(study, "waited")] };
  const of = before?.share?.of ?? before?.count?.of ?? ALL_CASES;
  switch (form) {
    case "share":
      return { share: { of, where: asked } };
    case "count":
      return { count: { of: of === TIME ? ALL_CASES : of, where: asked } };
    case "time":
      return { time: { to: { step: study.steps.find((step) => step.checkpoint)?.id ?? study.steps[0]?.id ?? "" } } };
    default: {
      const level = before?.level ?? { of: levelsOf(study)[0]?.value ?? "type/all/inside" };
      return { level: form === "max" ? { ...level, statistic: "max" } : { of: level.of, ...(level.where && { where: level.where }) } };
    }
  }
}

export function makeMeasure(study: StudyDocument, form: Form): Measure {
  study.measures ??= [];
  const name = { share: "Share", count: "Number", time: "Time", mean: "Mean level", max: "Highest level" }[form];
  const taken = study.measures.filter((each) => each.name.startsWith(name)).length;
  const called = taken ? `${name} ${taken + 1}` : name;
  const measure = { id: freshId(called, study.measures), name: called, ...inForm(study, form) };
  study.measures.push(measure);
  return measure;
}

/** The cases and visits, or the time, that a measure may be of. */
export function whoseOf(study: StudyDocument, form: "share" | "count"): Option[] {
  const exits = study.steps.filter((step) => step.kind === "exit");
  const others = study.steps.filter((step) => step.kind !== "exit");
  const types = study.case_types.length > 1 ? study.case_types : [];
  return [
    { value: ALL_CASES, label: "all cases" },
    ...types.map(({ id, name }) => ({ value: `type/${id}`, label: `cases of ${name}` })),
    ...study.streams.map(({ id, name }) => ({ value: `stream/${id}`, label: `cases from ${name}` })),
    ...exits.map(({ id, name }) => ({ value: `outcome/${id}`, label: `cases that leave by ${name}` })),
    ...others.map(({ id, name }) => ({ value: `step/${id}`, label: `visits to ${name}` })),
    ...(form === "share" ? [{ value: TIME, label: "the time" }] : []),
  ];
}

/** The levels over time that a measure may be of. */
export function levelsOf(study: StudyDocument): Option[] {
  const called = (kind: PartKind, quantity: string, words: (name: string) => string) =>
    partsOf(study, kind).map(({ id, name }) => ({ value: `${kind}/${id}/${quantity}`, label: words(name) }));
  const types = study.case_types.length > 1 ? called("type", "inside", (name) => `cases of ${name} inside`) : [];
  const waits = (step: Step) => (step.kind === "serve" ? (step.needs ?? []).length > 0 : ["signal", "gather", "join"].includes(step.kind));
  const stays = (step: Step) => !["exit", "choose", "fork", "scatter", "set"].includes(step.kind);
  return [
    ...study.steps.filter(waits).map(({ id, name }) => ({ value: `step/${id}/line`, label: `the line at ${name}` })),
    ...study.steps.filter(stays).map(({ id, name }) => ({ value: `step/${id}/inside`, label: `the cases at ${name}` })),
    { value: "type/all/inside", label: "all cases inside" },
    ...types,
    ...called("team", "present", (name) => `${name} present`),
    ...called("team", "working", (name) => `${name} at work`),
  ];
}
