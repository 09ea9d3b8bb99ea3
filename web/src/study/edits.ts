import { shareOf, stepById } from "./flow";
import type { CaseType, Link, Step, StepKind, Stream, StudyDocument, Team } from "./types";
import { linksOf } from "./types";

/** Makes an id from a name that nothing in the list has yet. */
export function freshId(name: string, taken: { id: string }[]): string {
  const base =
    name.toLowerCase().normalize("NFKD").replace(/[^a-z0-9]+/g, "-").replace(/^[^a-z]+|-+$/g, "").slice(0, 50) || "item";
  const used = new Set(taken.map((each) => each.id));
  let id = base;
  for (let n = 2; used.has(id); n++) id = `${base}-${n}`;
  return id;
}

/** The kinds of step that can be added on the map so far. */
export type AddedKind = Extract<StepKind, "serve" | "delay" | "choose" | "exit">;

const NEW_NAMES: Record<AddedKind, string> = { serve: "New step", delay: "Delay", choose: "Parting", exit: "Leaves" };

function newStep(study: StudyDocument, kind: AddedKind, next: Link[]): Step {
  const name = NEW_NAMES[kind];
  const id = freshId(name, study.steps);
  switch (kind) {
    case "serve": {
      const team = study.teams[0];
      const work = { dist: "triangular", low: "2 min", mode: "4 min", high: "6 min" } as const;
      return { id, name, kind, work, needs: team ? [{ team: team.id, count: 1 }] : [], next };
    }
    case "delay":
      return { id, name, kind, time: "5 min", next };
    case "choose":
      return { id, name, kind, next };
    case "exit":
      return { id, name, kind };
  }
}

/** Puts a step right after another and returns its id; everything that went on from there now passes it. */
export function insertAfter(study: StudyDocument, id: string, kind: AddedKind): string | null {
  const place = study.steps.findIndex((step) => step.id === id);
  const step = study.steps[place];
  if (!step || step.kind === "exit" || kind === "exit") return null;
  const added = newStep(study, kind, step.next ?? []);
  step.next = [{ to: added.id }];
  study.steps.splice(place + 1, 0, added);
  return added.id;
}

/** Puts a step at the beginning of a stream's way. */
export function insertFirst(study: StudyDocument, streamId: string, kind: AddedKind): string | null {
  const stream = study.streams.find((each) => each.id === streamId);
  if (!stream || kind === "exit") return null;
  const added = newStep(study, kind, [{ to: stream.to }]);
  stream.to = added.id;
  study.steps.unshift(added);
  return added.id;
}

/** Gives a step one more way, to a new step that joins the first way's end or to a new exit. */
export function branch(study: StudyDocument, id: string, kind: AddedKind): string | null {
  const place = study.steps.findIndex((step) => step.id === id);
  const step = study.steps[place];
  if (!step || step.kind === "exit") return null;
  const first = linksOf(step)[0];
  const after = first && stepById(study, first.to);
  const joins = after?.kind === "exit" ? after.id : ((after && linksOf(after)[0]?.to) ?? first?.to);
  const added = newStep(study, kind, joins ? [{ to: joins }] : []);
  study.steps.splice(place + 1, 0, added);
  addLink(study, step, added.id);
  return added.id;
}

/** Adds a way that takes half of the largest share. */
export function addLink(study: StudyDocument, step: Step, to: string): void {
  if (step.kind === "exit") return;
  const links = (step.next ??= []);
  if (links.length === 0) {
    links.push({ to });
    return;
  }
  const added: Link = { to };
  if (links.some((link) => link.share_by_type)) {
    added.share_by_type = Object.fromEntries(study.case_types.map((type) => [type.id, 0]));
  } else {
    const largest = links.reduce((most, link) => ((link.share ?? 1) > (most.share ?? 1) ? link : most));
    const half = round((largest.share ?? 1) / 2);
    added.share = round((largest.share ?? 1) - half);
    largest.share = half;
  }
  links.push(added);
}

/** Takes a way out; where one is left, it takes everything. */
export function removeLink(step: Step, place: number): void {
  if (step.kind === "exit" || !step.next) return;
  step.next.splice(place, 1);
  const only = step.next.length === 1 ? step.next[0] : undefined;
  if (only) {
    delete only.share;
    delete only.share_by_type;
  }
}

/** Deletes a step and leads what came to it to where its cases went. */
export function deleteStep(study: StudyDocument, id: string): string | null {
  const step = stepById(study, id);
  if (!step) return "There is no such step.";
  const onward = linksOf(step).filter((link) => link.to !== id);
  const isTarget = study.streams.some((stream) => stream.to === id) || study.steps.some((each) => each.id !== id && linksOf(each).some((link) => link.to === id));
  const heir = onward[0]?.to;
  if (!heir && isTarget) return `Cases still come to ${step.name}. Lead them elsewhere first.`;
  for (const stream of study.streams) if (stream.to === id && heir) stream.to = heir;
  for (const each of study.steps) {
    if (each.kind === "exit" || each.id === id || !each.next) continue;
    each.next = merged(study, each, each.next.flatMap((link) => (link.to === id ? replaced(study, step, link, onward) : [link])));
  }
  study.steps = study.steps.filter((each) => each.id !== id);
  return null;
}

/** What stands for a link to a deleted step: its own ways on, with the shares multiplied. */
function replaced(study: StudyDocument, step: Step, link: Link, onward: Link[]): Link[] {
  if (onward.length === 1) return onward.map((on) => ({ ...link, to: on.to }));
  return onward.map((on) => ({
    ...link,
    to: on.to,
    share: undefined,
    share_by_type: Object.fromEntries(
      study.case_types.map(({ id }) => {
        const left = onward.reduce((sum, each) => sum + shareOf(step, each, id), 0) || 1;
        return [id, round(((link.share_by_type?.[id] ?? link.share ?? 1) * shareOf(step, on, id)) / left)];
      }),
    ),
  }));
}

/** Joins links to the same step, and makes their shares alike: all by type, or all plain. */
function merged(study: StudyDocument, step: Step, links: Link[]): Link[] {
  const byTarget = new Map<string, Link>();
  const alone = links.length === 1;
  for (const link of links) {
    const known = byTarget.get(link.to);
    if (!known) {
      byTarget.set(link.to, { ...link });
      continue;
    }
    const share = (each: Link, type: string) => each.share_by_type?.[type] ?? each.share ?? (alone ? 1 : shareOf(step, each, type));
    known.share_by_type = Object.fromEntries(study.case_types.map(({ id }) => [id, round(share(known, id) + share(link, id))]));
    delete known.share;
  }
  const result = [...byTarget.values()];
  const only = result.length === 1 ? result[0] : undefined;
  if (only) {
    delete only.share;
    delete only.share_by_type;
  }
  return result;
}

/** Switches a step's shares between one for all and one per case type. */
export function setSharesByType(study: StudyDocument, step: Step, byType: boolean): void {
  for (const link of linksOf(step)) {
    const shares = study.case_types.map(({ id }) => [id, shareOf(step, link, id)] as const);
    if (byType) {
      link.share_by_type = Object.fromEntries(shares);
      delete link.share;
    } else {
      link.share = shares[0]?.[1] ?? 1;
      delete link.share_by_type;
    }
  }
}

export function addTeam(study: StudyDocument, name = "New team"): Team {
  const team: Team = { id: freshId(name, study.teams), name, size: 1, rate: 0 };
  study.teams.push(team);
  return team;
}

export function deleteTeam(study: StudyDocument, id: string): void {
  study.teams = study.teams.filter((team) => team.id !== id);
  for (const step of study.steps) {
    if (step.kind === "serve" && step.needs) step.needs = step.needs.filter((need) => need.team !== id);
  }
}

export function addStream(study: StudyDocument): Stream | null {
  const first = study.streams[0]?.to ?? study.steps[0]?.id;
  if (!first) return null;
  const type = study.case_types[0];
  const stream: Stream = {
    id: freshId("New stream", study.streams),
    name: "New stream",
    kind: "random",
    gap: { dist: "exponential", mean: "10 min" },
    mix: type ? [{ type: type.id, share: 1 }] : [],
    to: first,
  };
  study.streams.push(stream);
  return stream;
}

/** Adds a case type; it comes once a stream's mix gives it a share. */
export function addCaseType(study: StudyDocument, name = "New type"): CaseType {
  const used = new Set(study.case_types.map((type) => type.colour));
  const colour = [1, 2, 3, 4, 5, 6, 7, 8].find((each) => !used.has(each)) ?? 1;
  const type: CaseType = { id: freshId(name, study.case_types), name, colour };
  study.case_types.push(type);
  const model = study.case_types[0];
  for (const link of study.steps.flatMap(linksOf)) {
    if (link.share_by_type && model) link.share_by_type[type.id] = link.share_by_type[model.id] ?? 0;
  }
  return type;
}

export function deleteCaseType(study: StudyDocument, id: string): void {
  study.case_types = study.case_types.filter((type) => type.id !== id);
  for (const stream of study.streams) {
    const left = (stream.mix ?? []).filter((part) => part.type !== id);
    const total = left.reduce((sum, part) => sum + part.share, 0);
    stream.mix = left.map((part) => ({ ...part, share: total > 0 ? round(part.share / total) : 1 / left.length }));
  }
  for (const step of study.steps) {
    for (const link of linksOf(step)) if (link.share_by_type) delete link.share_by_type[id];
    const work = step.kind === "serve" ? step.work : step.kind === "delay" ? step.time : null;
    if (work && typeof work === "object" && "by_type" in work) delete work.by_type?.[id];
  }
}

/** Rounds away what floating point adds to a share. */
export function round(share: number): number {
  return Math.round(share * 1e10) / 1e10;
}
