import { shareOf, stepById, stepsAhead } from "../document/flow";
import type { Link, Step, StudyDocument } from "../document/types";
import { linksOf } from "../document/types";
import { freshCondition } from "../values/rules";

/** Makes an id from a name that nothing in the list has yet. */
export function freshId(name: string, taken: { id: string }[]): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFKD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^[^a-z]+|-+$/g, "")
      .slice(0, 50) || "item";
  const used = new Set(taken.map((each) => each.id));
  let id = base;
  for (let n = 2; used.has(id); n++) id = `${base}-${n}`;
  return id;
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

/** Where one more way of a step may lead: to the nearest step past where its ways lead now, else to any other. */
export function furtherOn(study: StudyDocument, step: Step): string | undefined {
  const taken = new Set([step.id, ...linksOf(step).map((link) => link.to)]);
  return [...stepsAhead(study, step.id), ...study.steps].find((each) => !taken.has(each.id))?.id;
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
  const isTarget =
    study.streams.some((stream) => stream.to === id) ||
    study.steps.some((each) => each.id !== id && linksOf(each).some((link) => link.to === id));
  const heir = onward[0]?.to;
  const fork = step.kind === "join" ? study.steps.find((each) => each.kind === "fork" && each.join === id) : undefined;
  if (fork) return `${step.name} is where the branches of ${fork.name} meet. Delete ${fork.name}, and both go.`;
  if (!heir && isTarget) return `Cases still come to ${step.name}. Lead them elsewhere first.`;
  for (const stream of study.streams) if (stream.to === id && heir) stream.to = heir;
  for (const each of study.steps) {
    if (each.kind === "exit" || each.id === id || !each.next) continue;
    const elsewhere = onward.filter((link) => link.to !== each.id);
    const instead = elsewhere.length > 0 ? elsewhere : onward;
    each.next = merged(
      study,
      each,
      each.next.flatMap((link) => (link.to === id ? replaced(study, step, link, instead) : [link])),
    );
  }
  leadAside(study, id, heir);
  study.steps = study.steps.filter((each) => each.id !== id);
  return step.kind === "fork" ? deleteStep(study, step.join) : null;
}

/** Leads who gives up, balks, is turned away or runs out of time to another step; who leaves a line, nowhere where there is none. */
export function leadAside(study: StudyDocument, id: string, instead: string | undefined): void {
  for (const step of study.steps) {
    for (const key of ["full_to", "balks_to", "gives_up_to"] as const) {
      if (step.kind !== "serve" || step.line?.[key] !== id) continue;
      if (instead && instead !== step.id) step.line[key] = instead;
      else delete step.line[key];
    }
  }
  for (const { then } of study.deadlines ?? []) {
    if (instead && then.send === id) then.send = instead;
    if (instead && then.divert === id) then.divert = instead;
  }
}

/** What stands for a link to a deleted step: its own ways on, with the shares multiplied. */
function replaced(study: StudyDocument, step: Step, link: Link, onward: Link[]): Link[] {
  if (onward.length === 1 || link.when || link.otherwise) return onward.slice(0, 1).map((on) => ({ ...link, to: on.to }));
  return onward.map((on) => ({
    ...link,
    to: on.to,
    share: undefined,
    share_by_type: Object.fromEntries(
      study.case_types.map(({ id }) => {
        const left = onward.reduce((sum, each) => sum + shareOf(step, each, id), 0);
        const part = left > 0 ? shareOf(step, on, id) / left : 1 / onward.length;
        return [id, round((link.share_by_type?.[id] ?? link.share ?? 1) * part)];
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

/** How the ways of a step part: shares for all, shares by case type, rules, or by nothing that is written at the ways. */
export type Parting = "same" | "by_type" | "rule" | "none";

export function partingOf(step: Step): Parting {
  const links = linksOf(step);
  if (step.kind === "fork" || (step.kind === "choose" && (step.pick === "shortest-line" || step.pick === "in-turn"))) return "none";
  if (links.some((link) => link.when || link.otherwise) || (step.kind === "choose" && step.pick === "rule")) return "rule";
  return links.some((link) => link.share_by_type) ? "by_type" : "same";
}

/** Lets the ways of a step part in another manner, keeping what can be kept. */
export function partBy(study: StudyDocument, step: Step, parting: Parting): void {
  if (step.kind === "exit") return;
  const links = linksOf(step);
  const shares = links.map((link) => study.case_types.map(({ id }) => [id, shareOf(step, link, id)] as const));
  const plain = shares.map((byType) => byType[0]?.[1] ?? 0);
  if (plain.reduce((sum, share) => sum + share, 0) === 0) plain.fill(round(1 / links.length));
  if (step.kind === "choose" && (parting === "same" || parting === "by_type")) delete step.pick;
  if (step.kind === "choose" && parting === "rule") step.pick = "rule";
  links.forEach((link, n) => {
    delete link.share;
    delete link.share_by_type;
    delete link.when;
    delete link.otherwise;
    if (links.length === 1) return;
    if (parting === "same") link.share = plain[n];
    else if (parting === "by_type")
      link.share_by_type = Object.fromEntries(
        shares[n]?.every(([, share]) => share === 0) ? (shares[n] ?? []).map(([id]) => [id, plain[n] ?? 0]) : (shares[n] ?? []),
      );
    else if (parting === "rule" && n < links.length - 1) link.when = { all: [freshCondition(study)] };
    else if (parting === "rule") link.otherwise = true;
  });
}

/** Moves an element of a list one place up or down. */
export function reorder(list: { id: string }[], id: string, by: -1 | 1): void {
  const place = list.findIndex((each) => each.id === id);
  const other = place + by;
  const [one, two] = [list[place], list[other]];
  if (one && two) [list[place], list[other]] = [two, one];
}

/** Rounds away what floating point adds to a share. */
export function round(share: number): number {
  return Math.round(share * 1e10) / 1e10;
}
