import type { Link, Step, StudyDocument } from "./types";
import { linksOf } from "./types";

/** The share of a link for one case type, as written. A single way without a share has 1. */
export function shareOf(step: Step, link: Link, type: string): number {
  const links = linksOf(step);
  if (links.length === 1 && link.share == null && !link.share_by_type) return 1;
  return link.share_by_type?.[type] ?? link.share ?? 0;
}

export function stepById(study: StudyDocument, id: string): Step | undefined {
  return study.steps.find((step) => step.id === id);
}

/** The case types that a stream brings, in the study's order; without a mix, the first. */
function typesOf(study: StudyDocument, mix: { type: string; share: number }[] | undefined): string[] {
  const brought = new Set((mix ?? []).filter((part) => part.share > 0).map((part) => part.type));
  if (brought.size === 0) return study.case_types.slice(0, 1).map((type) => type.id);
  return study.case_types.filter((type) => brought.has(type.id)).map((type) => type.id);
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
  const streams = new Map(study.streams.map((stream) => [stream.id, typesOf(study, stream.mix)]));
  const ahead = study.streams.flatMap((stream) => (streams.get(stream.id) ?? []).map((type) => [stream.to, type] as const));
  while (ahead.length > 0) {
    const [id, type] = ahead.pop() as readonly [string, string];
    const here = steps.get(id);
    const step = stepById(study, id);
    if (!here || !step || here.has(type)) continue;
    here.add(type);
    for (const link of linksOf(step)) {
      if (shareOf(step, link, type) <= 0) continue;
      const name = linkName(id, link.to);
      links.set(name, (links.get(name) ?? new Set()).add(type));
      ahead.push([link.to, type]);
    }
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
  return linksOf(step).reduce((sum, link) => sum + shareOf(step, link, type), 0);
}
