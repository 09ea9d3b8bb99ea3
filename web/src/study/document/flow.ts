import type { Link, Step, Stream, StudyDocument } from "./types";
import { linksOf } from "./types";

/** The share of each way out of a step for one case type, as written; `tests/shared/flow.json` holds this law for both languages. */
export function sharesOf(step: Step, type: string): number[] {
  const links = linksOf(step);
  if (links.some((link) => link.otherwise) && links.some((link) => link.when))
    return links.map((link) => Number(!!link.otherwise && !link.when));
  const [only, ...more] = links.filter((link) => !link.when);
  if (only && more.length === 0 && only.share == null && !only.share_by_type) return links.map((link) => Number(link === only));
  return links.map((link) => (link.when ? 0 : (link.share_by_type?.[type] ?? link.share ?? 0)));
}

/** The share of one way out of a step for one case type. */
export function shareOf(step: Step, link: Link, type: string): number {
  return sharesOf(step, type)[linksOf(step).indexOf(link)] ?? 0;
}

/** Whether cases pick their way by the lines ahead, or take them in turn. */
const picksByLine = (step: Step) => step.kind === "choose" && (step.pick === "shortest-line" || step.pick === "in-turn");

/** Whether cases of a type may take each way out at all: by its share, by a rule, in turn, or as a branch. */
export function mayTake(step: Step, type: string): boolean[] {
  const links = linksOf(step);
  if (step.kind === "fork") return links.map((link) => link.chance == null || link.chance > 0);
  if (picksByLine(step)) return links.map(() => true);
  const shares = sharesOf(step, type);
  return links.map((link, n) => !!link.when || (shares[n] ?? 0) > 0);
}

/** Whether each way out of a step has a share to show. */
export function showsShares(step: Step): boolean {
  const links = linksOf(step);
  if (links.length < 2 || step.kind === "fork" || links.some((link) => link.when)) return false;
  return step.kind !== "choose" || (step.pick ?? "share") === "share";
}

/** A way that cases take only when something does not go as planned: a full or long line, lost patience, a deadline. */
export interface SideWay {
  from: string;
  to: string;
}

export function sideWays(study: StudyDocument): SideWay[] {
  const ways: SideWay[] = [];
  for (const step of study.steps) {
    if (step.kind !== "serve") continue;
    for (const to of [step.line?.full_to, step.line?.balks_to, step.line?.gives_up_to]) if (to) ways.push({ from: step.id, to });
  }
  for (const { from, then } of study.deadlines ?? []) {
    const to = then.send ?? then.divert;
    if (to) ways.push({ from, to });
  }
  return ways;
}

export function stepById(study: StudyDocument, id: string): Step | undefined {
  return study.steps.find((step) => step.id === id);
}

/** The case types that a stream brings at some time, in the study's order; without a mix, the first. */
function typesOf(study: StudyDocument, stream: Stream): string[] {
  const mixes = [stream.mix ?? [], ...(stream.mix_by_hour ?? []).map((hours) => hours.mix)];
  const brought = new Set(
    mixes
      .flat()
      .filter((part) => part.share > 0)
      .map((part) => part.type),
  );
  const dated = stream.kind === "dates" ? stream.arrivals : [];
  for (const arrival of dated) if (arrival.type) brought.add(arrival.type);
  const hasOthers = stream.kind !== "dates" || !dated.every((arrival) => arrival.type);
  const first = study.case_types[0];
  if (hasOthers && !stream.mix?.length && first) brought.add(first.id);
  return study.case_types.filter((type) => brought.has(type.id)).map((type) => type.id);
}

/** The steps that cases may come to after a step, the nearest first. */
export function stepsAhead(study: StudyDocument, from: string): Step[] {
  const found: Step[] = [];
  const ahead = [from];
  for (const id of ahead) {
    const step = stepById(study, id);
    for (const { to } of step ? linksOf(step) : []) {
      const next = stepById(study, to);
      if (!next || ahead.includes(to)) continue;
      found.push(next);
      ahead.push(to);
    }
  }
  return found;
}

/** Which case types come to each step and take each link; a link is named by "step>target". */
export interface Passing {
  steps: Map<string, string[]>;
  links: Map<string, string[]>;
  streams: Map<string, string[]>;
}

export const linkName = (from: string, to: string) => `${from}>${to}`;

export function passing(study: StudyDocument): Passing {
  const steps = new Map(study.steps.map((step) => [step.id, new Set<string>()]));
  const links = new Map<string, Set<string>>();
  const streams = new Map(study.streams.map((stream) => [stream.id, typesOf(study, stream)]));
  const aside = sideWays(study);
  const ahead = study.streams.flatMap((stream) => (streams.get(stream.id) ?? []).map((type) => [stream.to, type] as const));
  while (ahead.length > 0) {
    const [id, type] = ahead.pop() as readonly [string, string];
    const here = steps.get(id);
    const step = stepById(study, id);
    if (!here || !step || here.has(type)) continue;
    here.add(type);
    const taken = mayTake(step, type);
    linksOf(step).forEach((link, n) => {
      if (!taken[n]) return;
      const name = linkName(id, link.to);
      links.set(name, (links.get(name) ?? new Set()).add(type));
      ahead.push([link.to, type]);
    });
    if (step.kind === "fork") ahead.push([step.join, type]);
    for (const way of aside) if (way.from === id) ahead.push([way.to, type]);
  }
  const ordered = (types: Set<string>) => study.case_types.map((type) => type.id).filter((id) => types.has(id));
  return {
    steps: new Map([...steps].map(([id, types]) => [id, ordered(types)])),
    links: new Map([...links].map(([name, types]) => [name, ordered(types)])),
    streams,
  };
}

export function colourOf(study: StudyDocument, type: string): string {
  const place = study.case_types.findIndex((each) => each.id === type);
  const colour = study.case_types[place]?.colour ?? (place % 8) + 1;
  return `var(--line-${colour})`;
}

/** The sum of the shares of a step's ways for one case type. */
export function shareSum(step: Step, type: string): number {
  return sharesOf(step, type).reduce((sum, share) => sum + share, 0);
}
