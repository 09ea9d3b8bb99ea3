import { stepById } from "../study/document/flow";
import { meets } from "../study/document/needs";
import { nameOf } from "../study/document/parts";
import type { Step, StudyDocument, Team } from "../study/document/types";
import { inShort } from "../study/values/distributions";
import { howOften } from "../study/values/streams";
import type { Stop } from "./types";

const FEW_TIMES = 2;

/** Who works at a stop and how long, how often cases come, or what they wait for. */
export function detailOf(study: StudyDocument, stop: Stop): string[] {
  if (stop.kind === "stream") {
    const stream = study.streams.find((each) => `stream:${each.id}` === stop.id);
    return stream ? [howOften(stream)] : [];
  }
  const step = stepById(study, stop.id);
  if (step?.kind === "delay") return [inShort(step.time, stop.types)];
  if (step?.kind === "signal") return clearsWhen(study, step);
  if (step?.kind !== "serve") return [];
  const needs = (step.needs ?? []).map((need) => {
    const able = study.teams.filter((team) => meets(team, need));
    const several = need.count && need.count > 1 ? `${need.count} of ` : "";
    return several + (able.map(headcount).join(" or ") || "nobody known");
  });
  return [needs.join(" + ") || "automatic", inShort(step.work, stop.types)];
}

/** When a signal clears that does not simply open: "every 15 min", "message from Answer". */
function clearsWhen(study: StudyDocument, { clears }: Extract<Step, { kind: "signal" }>): string[] {
  if (!clears) return [];
  const { every, at, after_step, waiting, message, also } = clears;
  if (every) return [`every ${every}`];
  if (at?.length) return [at.length > FEW_TIMES ? `${at.length} times a day` : `at ${at.join(", ")}`];
  if (after_step) return [`after ${nameOf(study, "step", after_step)}`];
  if (message) return [`message from ${[message, ...(also ?? [])].map((step) => nameOf(study, "step", step)).join(" or ")}`];
  return [`when ${waiting} wait`];
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
