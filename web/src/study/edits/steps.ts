import { stepById } from "../document/flow";
import type { Link, Step, StepKind, StudyDocument } from "../document/types";
import { linksOf } from "../document/types";
import { addLink, freshId, leadAside } from "./links";
import { makeExit, makePart } from "./making";

/** The kinds of step that can be put in anywhere; a join comes with its fork. */
export type AddedKind = Exclude<StepKind, "join">;

const NEW_NAMES: Record<StepKind, string> = {
  serve: "New step",
  delay: "Delay",
  signal: "Signal",
  choose: "Parting",
  fork: "Fork",
  join: "Join",
  gather: "Gathering",
  scatter: "Scattering",
  set: "Note",
  exit: "Leaves",
};

/** Makes a step of a kind, with all that such a step must have, and puts it in the list after another. */
function putStep(study: StudyDocument, kind: StepKind, next: Link[], after: string | null): Step {
  const name = NEW_NAMES[kind];
  const step = { id: freshId(name, study.steps), name, ...settingsOf(study, kind, next) } as Step;
  const place = study.steps.findIndex((each) => each.id === after);
  study.steps.splice(place + 1, 0, step);
  return step;
}

function settingsOf(study: StudyDocument, kind: StepKind, next: Link[]): object {
  switch (kind) {
    case "serve": {
      const team = study.teams[0];
      return {
        kind,
        work: { dist: "triangular", low: "2 min", mode: "4 min", high: "6 min" },
        needs: team ? [{ team: team.id, count: 1 }] : [],
        next,
      };
    }
    case "delay":
      return { kind, time: "5 min", next };
    case "signal":
      return { kind, clears: { every: "15 min" }, next };
    case "gather":
      return { kind, count: 2, next };
    case "set": {
      const id = study.traits?.[0]?.id ?? makePart(study, "trait");
      const trait = study.traits?.find((each) => each.id === id);
      return { kind, traits: { [id]: trait?.values?.[0] ?? 1 }, next };
    }
    case "exit":
      return { kind };
    case "fork":
      return { kind, join: "", next };
    default:
      return { kind, next };
  }
}

/** Puts a step, or a fork with two branches and its join, on a way; returns the first new step and where its cases go on from. */
function putOnWay(study: StudyDocument, kind: AddedKind, next: Link[], after: string | null): Step {
  if (kind !== "fork") return putStep(study, kind, next, after);
  const join = putStep(study, "join", next, after);
  const second = putStep(study, "serve", [{ to: join.id }], after);
  const first = putStep(study, "serve", [{ to: join.id }], after);
  const fork = putStep(study, "fork", [{ to: first.id }, { to: second.id }], after);
  if (fork.kind === "fork") fork.join = join.id;
  return fork;
}

/** Puts the first step and an exit into a study without steps, and leads every stream there. */
export function insertOnly(study: StudyDocument): string {
  const added = putStep(study, "serve", [{ to: makeExit(study) }], null);
  for (const stream of study.streams) stream.to = added.id;
  return added.id;
}

/** Puts a step right after another and returns its id; everything that went on from there now passes it. */
export function insertAfter(study: StudyDocument, id: string, kind: AddedKind): string | null {
  const step = stepById(study, id);
  if (!step || step.kind === "exit" || kind === "exit") return null;
  if (step.kind === "fork") return onBranch(study, step, kind);
  const added = putOnWay(study, kind, step.next ?? [], id);
  step.next = [{ to: added.id }];
  if (step.kind === "choose") delete step.pick;
  return added.id;
}

/** Puts a step on the first branch of a fork: a fork itself has to lead on along its branches. */
function onBranch(study: StudyDocument, fork: Extract<Step, { kind: "fork" }>, kind: AddedKind): string | null {
  const branch = fork.next?.[0];
  if (!branch) return null;
  const added = putOnWay(study, kind, [{ to: branch.to }], fork.id);
  branch.to = added.id;
  return added.id;
}

/** Puts a step right before another: whatever came there now passes it. */
export function insertBefore(study: StudyDocument, id: string, kind: AddedKind): string | null {
  if (kind === "exit" || !stepById(study, id)) return null;
  const place = study.steps.findIndex((step) => step.id === id);
  const leading = study.steps.flatMap((step) => linksOf(step).filter((link) => link.to === id));
  const added = putOnWay(study, kind, [{ to: id }], study.steps[place - 1]?.id ?? null);
  for (const link of leading) link.to = added.id;
  for (const stream of study.streams) if (stream.to === id) stream.to = added.id;
  leadAside(study, id, added.id);
  return added.id;
}

/** Puts a step at the beginning of a stream's way. */
export function insertFirst(study: StudyDocument, streamId: string, kind: AddedKind): string | null {
  const stream = study.streams.find((each) => each.id === streamId);
  if (!stream || kind === "exit") return null;
  const added = putOnWay(study, kind, [{ to: stream.to }], null);
  stream.to = added.id;
  return added.id;
}

/** Gives a step one more way, to a new step that joins the first way's end or to a new exit. */
export function branch(study: StudyDocument, id: string, kind: AddedKind): string | null {
  const step = stepById(study, id);
  if (!step || step.kind === "exit") return null;
  const first = linksOf(step)[0];
  const after = first && stepById(study, first.to);
  const joins = after?.kind === "exit" ? after.id : ((after && linksOf(after)[0]?.to) ?? first?.to);
  const end = step.kind === "fork" ? step.join : joins;
  const added = putOnWay(study, kind, end ? [{ to: end }] : [], id);
  addLink(study, step, added.id);
  return added.id;
}

/** The kinds that a step can be turned into: those that stand by themselves and lead on. */
export const CONVERTIBLE: StepKind[] = ["serve", "delay", "signal", "choose", "gather", "scatter", "set"];

const KEPT = ["id", "name", "next", "place", "places", "pick_place", "checkpoint"];
const KEPT_AT: Partial<Record<StepKind, string[]>> = {
  serve: ["open", "overtime", "cost", "value"],
  delay: ["open", "overtime", "cost", "value"],
  signal: ["open", "cost", "value"],
};

/** Turns a step into one of another kind: its name, its ways and all settings that both kinds have stay. */
export function turnInto(study: StudyDocument, id: string, kind: StepKind): void {
  const place = study.steps.findIndex((step) => step.id === id);
  const step = study.steps[place];
  if (!step || !CONVERTIBLE.includes(kind) || !CONVERTIBLE.includes(step.kind)) return;
  const kept = [...KEPT, ...(KEPT_AT[kind] ?? [])];
  const settings = settingsOf(study, kind, linksOf(step)) as Record<string, unknown>;
  if (kind === "delay" && step.kind === "serve") settings.time = step.work;
  if (kind === "serve" && step.kind === "delay") settings.work = step.time;
  if (kind === "choose" && linksOf(step).some((link) => link.when)) settings.pick = "rule";
  const same = Object.fromEntries(Object.entries(step).filter(([key]) => kept.includes(key)));
  const name = step.name.startsWith(NEW_NAMES[step.kind]) ? NEW_NAMES[kind] : step.name;
  study.steps[place] = { ...same, ...settings, name } as Step;
}

/** Draws a way from a step to one that is there; also back, for rework. */
export function drawWay(study: StudyDocument, from: string, to: string): string | null {
  const step = stepById(study, from);
  const target = stepById(study, to);
  if (!step || !target) return "There is no such step.";
  if (step.kind === "exit") return "No way leads on from an exit.";
  if (from === to) return `A way from ${step.name} to itself would never end. Lead it to another step.`;
  if (linksOf(step).some((link) => link.to === to)) return `A way from ${step.name} to ${target.name} is there already.`;
  addLink(study, step, to);
  return null;
}
