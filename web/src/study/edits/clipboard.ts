import { stepById } from "../document/flow";
import type { Step, StudyDocument } from "../document/types";
import { linksOf } from "../document/types";
import { deleteStep, freshId } from "./links";

/** Steps taken from a study as they are, to be put in somewhere else. */
export interface Stretch {
  steps: Step[];
}

const MARK = "urban-queue-steps";

/** The keys of a step whose value is the id of a step. */
const STEP_KEYS = new Set(["to", "full_to", "balks_to", "gives_up_to", "keep_until", "join", "after_step", "message", "also"]);
/** The keys whose value is the name under which somebody is remembered. */
const NAME_KEYS = new Set(["as", "same_as"]);

/** Takes the selected steps, and the join of a fork with them. Exits stay where they are. */
export function stretchOf(study: StudyDocument, ids: string[]): Stretch {
  const wanted = new Set(ids);
  for (const step of study.steps)
    if (wanted.has(step.id) && step.kind === "fork") for (const id of betweenForkAndJoin(study, step)) wanted.add(id);
  return { steps: study.steps.filter((step) => wanted.has(step.id) && step.kind !== "exit") };
}

function betweenForkAndJoin(study: StudyDocument, fork: Extract<Step, { kind: "fork" }>): Set<string> {
  const inside = new Set([fork.join]);
  const ahead = linksOf(fork).map((link) => link.to);
  while (ahead.length > 0) {
    const id = ahead.pop() as string;
    const step = stepById(study, id);
    if (!step || step.kind === "exit" || inside.has(id)) continue;
    inside.add(id);
    ahead.push(...linksOf(step).map((link) => link.to));
  }
  return inside;
}

export function asText(stretch: Stretch): string {
  return JSON.stringify({ [MARK]: stretch.steps }, null, 2);
}

/** Reads what was copied here or in another study; null where it is something else. */
export function fromText(text: string): Stretch | null {
  try {
    const found = JSON.parse(text) as Record<string, unknown> | null;
    const steps = found?.[MARK];
    return Array.isArray(steps) && steps.length > 0 && steps.every((step) => typeof step?.id === "string" && typeof step?.kind === "string")
      ? { steps: steps as Step[] }
      : null;
  } catch {
    return null;
  }
}

/** Puts a copied stretch in after a step, or at the beginning of a stream, under new ids; returns the ids. */
export function pasteAfter(study: StudyDocument, stretch: Stretch, after: { step: string } | { stream: string }): string[] {
  const ids = new Map<string, string>();
  const names = new Map<string, string>();
  const taken = study.steps.map(({ id }) => ({ id }));
  for (const step of stretch.steps) {
    const id = freshId(step.name, taken);
    taken.push({ id });
    ids.set(step.id, id);
  }
  for (const name of namesIn(stretch.steps))
    names.set(
      name,
      freshId(
        name,
        namesIn(study.steps).map((id) => ({ id })),
      ),
    );
  const steps = stretch.steps.map((step) => ({
    ...(renamed(step, ids, names) as Step),
    id: ids.get(step.id) ?? step.id,
    name: freshName(step.name, study),
  }));
  join(study, steps, after);
  return steps.map((step) => step.id);
}

/** Moves steps as they are to after another step; the gap that they leave closes. */
export function moveAfter(study: StudyDocument, ids: string[], target: string): string | null {
  const stretch = structuredCloneOf(stretchOf(study, ids));
  const moved = new Set(stretch.steps.map((step) => step.id));
  if (moved.size === 0) return "Exits stay where they are.";
  if (moved.has(target)) return "Choose a step outside what is moved.";
  if (stepById(study, target)?.kind === "exit") return "Nothing can come after an exit.";
  for (const id of moved) {
    const refused = deleteStep(study, id);
    if (refused) return refused;
  }
  join(study, stretch.steps, { step: target });
  return null;
}

/** Leads the way at a place through some steps: in at the first, and on from wherever they led out. */
function join(study: StudyDocument, steps: Step[], after: { step: string } | { stream: string }): void {
  const inside = new Set(steps.map((step) => step.id));
  const targets = new Set(steps.flatMap((step) => linksOf(step).map((link) => link.to)));
  const first = steps.find((step) => !targets.has(step.id)) ?? steps[0];
  const before = "step" in after ? stepById(study, after.step) : undefined;
  const stream = "stream" in after ? study.streams.find((each) => each.id === after.stream) : undefined;
  if (!first || (!stream && (!before || before.kind === "exit"))) return;
  const onward = before && before.kind !== "exit" ? (before.next ?? []) : stream ? [{ to: stream.to }] : [];
  for (const step of steps) {
    if (step.kind === "exit") continue;
    const links = linksOf(step);
    if (links.length === 0) step.next = onward.map((link) => ({ ...link }));
    else if (links.every((link) => !inside.has(link.to)) && onward.length > 1) step.next = onward.map((link) => ({ ...link }));
    else
      step.next = links.map((link) =>
        inside.has(link.to) || isExit(study, link.to, steps) ? link : { ...link, to: onward[0]?.to ?? link.to },
      );
  }
  if (stream) stream.to = first.id;
  else if (before && before.kind !== "exit") before.next = [{ to: first.id }];
  const place = before ? study.steps.findIndex((step) => step.id === before.id) : -1;
  study.steps.splice(place + 1, 0, ...steps);
}

/** Whether a way out of a stretch leads to an exit while others lead on: then it stays as it is. */
function isExit(study: StudyDocument, id: string, steps: Step[]): boolean {
  const leadOn = steps
    .flatMap(linksOf)
    .some((link) => !steps.some((step) => step.id === link.to) && stepById(study, link.to)?.kind !== "exit");
  return leadOn && stepById(study, id)?.kind === "exit";
}

function namesIn(steps: Step[]): string[] {
  return [...new Set(steps.flatMap((step) => (step.kind === "serve" ? (step.needs ?? []) : [])).flatMap((need) => need.as ?? []))];
}

/** A copy of a part of a step in which ids of steps and remembered names are the new ones. */
function renamed(value: unknown, ids: Map<string, string>, names: Map<string, string>): unknown {
  if (Array.isArray(value)) return value.map((each) => renamed(each, ids, names));
  if (typeof value !== "object" || value === null) return value;
  const other = (id: unknown) => (typeof id === "string" ? (ids.get(id) ?? id) : id);
  const isAboutMessage = "fact" in value && value.fact === "message";
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) => {
      if (STEP_KEYS.has(key) || (isAboutMessage && key === "value")) return [key, Array.isArray(inner) ? inner.map(other) : other(inner)];
      if (typeof inner !== "string") return [key, renamed(inner, ids, names)];
      if (NAME_KEYS.has(key)) return [key, names.get(inner) ?? inner];
      const [kind, about] = inner.split(/:(.*)/s);
      return [key, key === "fact" && about && (kind === "visits" || kind === "line") ? `${kind}:${ids.get(about) ?? about}` : inner];
    }),
  );
}

function freshName(name: string, study: StudyDocument): string {
  const taken = new Set(study.steps.map((step) => step.name));
  if (!taken.has(name)) return name;
  const stem = name.replace(/ \d+$/, "");
  let n = 2;
  while (taken.has(`${stem} ${n}`)) n++;
  return `${stem} ${n}`;
}

const structuredCloneOf = (stretch: Stretch): Stretch => JSON.parse(JSON.stringify(stretch)) as Stretch;
