import { stepById } from "../study/document/flow";
import { meets } from "../study/document/needs";
import type { StudyDocument, Team } from "../study/document/types";
import { inShort } from "../study/values/distributions";
import { howOften } from "../study/values/streams";
import type { Stop } from "./types";

/** Who works at a stop and how long, or how often cases come. */
export function detailOf(study: StudyDocument, stop: Stop): string[] {
  if (stop.kind === "stream") {
    const stream = study.streams.find((each) => `stream:${each.id}` === stop.id);
    return stream ? [howOften(stream)] : [];
  }
  const step = stepById(study, stop.id);
  if (step?.kind === "delay") return [inShort(step.time, stop.types)];
  if (step?.kind !== "serve") return [];
  const needs = (step.needs ?? []).map((need) => {
    const able = study.teams.filter((team) => meets(team, need));
    const several = need.count && need.count > 1 ? `${need.count} of ` : "";
    return several + (able.map(headcount).join(" or ") || "nobody known");
  });
  return [needs.join(" + ") || "automatic", inShort(step.work, stop.types)];
}

/** "4 clerks", "1 clerk", or "clerks" where a roster says how many: a team's name is usually a plural. */
function headcount({ size, roster, name }: Team): string {
  const word = name.toLowerCase();
  if (roster?.length) return word;
  size ??= 1;
  return `${size} ${size === 1 && /[^s]s$/.test(word) ? word.slice(0, -1) : word}`;
}

/** How many cases at most may wait at a stop, where there is a bound. */
export function mostWaiting(study: StudyDocument, stop: Stop): number | null {
  const step = stepById(study, stop.id);
  return step?.kind === "serve" ? (step.line?.max ?? null) : null;
}
