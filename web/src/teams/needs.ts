import type { Schemas } from "../api/client";
import { needsOf } from "../study/document/needs";
import { partsOf } from "../study/document/parts";
import type { Need, Serve, Step, StudyDocument } from "../study/document/types";
import { type Put, readNumber } from "../ui/gridText";

type Staffing = Schemas["Staffing"];

/** Whom a step can ask for: a column of the grid of who does what. */
export interface Able {
  key: "team" | "skill";
  id: string;
  name: string;
}

const MOST = 10_000;

/** All teams, and all skills after them. */
export const ableOf = (study: StudyDocument): Able[] =>
  (["team", "skill"] as const).flatMap((key) => partsOf(study, key).map(({ id, name }) => ({ key, id, name })));

/** The steps that can ask for somebody. */
export const askingSteps = (study: StudyDocument): Serve[] => study.steps.filter((step) => step.kind === "serve");

const asksFor = (need: Need, able: Able) => need[able.key] === able.id;

/** How many a step asks for at once; empty where it asks for none. */
export function askedFor(step: Step, able: Able): string {
  const many = needsOf(step).reduce((sum, need) => sum + (asksFor(need, able) ? (need.count ?? 1) : 0), 0);
  return many > 0 ? String(many) : "";
}

/** The members whom a step keeps busy by what it asks of a column. */
export function loadOf(step: Step, able: Able, staffing: Staffing | undefined): number {
  const members = staffing?.needs[step.id] ?? [];
  return needsOf(step).reduce((sum, need, n) => sum + (asksFor(need, able) ? (members[n] ?? 0) : 0), 0);
}

/** The members on duty on average who can do what is asked of a column. */
export function thereOf(study: StudyDocument, able: Able, staffing: Staffing): number {
  const teams = study.teams.filter((team) => (able.key === "team" ? team.id === able.id : team.skills?.includes(able.id)));
  return teams.reduce((sum, team) => sum + (staffing.teams[team.id]?.there ?? 0), 0);
}

/** Takes over how many steps ask for, cell by cell; what else is set about a need that stays is kept. Says what is wrong. */
export function putNeeds(study: StudyDocument, puts: Put[]): string | null {
  const [steps, able] = [askingSteps(study), ableOf(study)];
  for (const { row, column, text } of puts) {
    const [step, whom] = [steps[row], able[column]];
    const problem = step && whom ? putNeed(step, whom, text) : null;
    if (problem) return problem;
  }
  return null;
}

function putNeed(step: Serve, able: Able, text: string): string | null {
  const read = text.trim() === "" ? { value: 0 } : readNumber(text);
  if ("problem" in read) return `${step.name}, ${able.name}: ${read.problem}`;
  if (!Number.isInteger(read.value) || read.value < 0 || read.value > MOST) return `${step.name}, ${able.name}: give a whole number.`;
  const own = needsOf(step).filter((need) => asksFor(need, able));
  if (own.length > 1 && read.value > 0 && askedFor(step, able) !== String(read.value))
    return `${step.name} asks for ${able.name} ${own.length} times, each in its own way. Change it on its sheet.`;
  const [need] = own;
  if (read.value === 0) step.needs = needsOf(step).filter((each) => !asksFor(each, able));
  else if (need && own.length === 1) setCount(need, read.value);
  else if (!need) {
    const fresh: Need = { [able.key]: able.id };
    setCount(fresh, read.value);
    (step.needs ??= []).push(fresh);
  }
  return null;
}

function setCount(need: Need, count: number): void {
  if (count > 1) need.count = count;
  else delete need.count;
}
