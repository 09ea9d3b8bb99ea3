import { needsInWords, needsOf } from "../document/needs";
import { nameOf, type PartKind } from "../document/parts";
import type { Need, Step, StudyDocument } from "../document/types";
import { linksOf } from "../document/types";
import { round } from "./links";

/** What can be taken out by itself; a step leads its cases elsewhere, see deleteStep. */
export type RemovableKind = Exclude<PartKind, "step">;

/** Takes a thing out of a study, and every mention of it; rules that ask for it stay, and the health checks name them. */
export function removePart(study: StudyDocument, kind: RemovableKind, id: string): void {
  const others = <Part extends { id: string }>(list: Part[] | undefined) => (list ?? []).filter((each) => each.id !== id);
  switch (kind) {
    case "stream":
      study.streams = others(study.streams);
      return;
    case "team":
      study.teams = others(study.teams);
      withoutTeam(study, id);
      for (const sizing of study.sizing ?? []) sizing.teams = sizing.teams?.filter((limits) => limits.team !== id);
      return;
    case "skill":
      study.skills = others(study.skills);
      withoutSkill(study, id);
      return;
    case "type":
      study.case_types = others(study.case_types);
      withoutType(study, id);
      return;
    case "calendar":
      study.calendars = others(study.calendars);
      for (const each of [...study.streams, ...study.steps]) if ("open" in each && each.open === id) delete each.open;
      if (study.run.doors === id) delete study.run.doors;
      return;
    case "trait":
      study.traits = others(study.traits);
      for (const each of [...study.case_types, ...study.streams]) if (each.traits) delete each.traits[id];
      for (const step of study.steps) if (step.kind === "set") delete step.traits[id];
      return;
    case "deadline":
      study.deadlines = others(study.deadlines);
      return;
    case "span":
      study.spans = others(study.spans);
      return;
    case "place":
      if (study.site) study.site.places = others(study.site.places);
      for (const step of study.steps) {
        if (step.place === id) delete step.place;
        if (step.places) step.places = step.places.filter((option) => option.place !== id);
      }
      for (const team of study.teams) if (team.place === id) delete team.place;
  }
}

/** What steps would be left without if a team or a skill were taken out, a sentence each. */
export function lossesWithout(study: StudyDocument, kind: "team" | "skill", id: string): string[] {
  const after = structuredClone(study);
  removePart(after, kind, id);
  return study.steps.flatMap((step, n) => {
    const left = after.steps[n] as Step;
    const [asked, asks] = [needsOf(step), needsOf(left)];
    const fewer = asks.length === 0 ? "nobody" : `only ${needsInWords(after, asks)}`;
    const lost = asked.length === asks.length ? [] : [`${step.name} would need ${fewer}.`];
    const unmet = asks.filter((need) => canMeet(study, need) && !canMeet(after, need));
    const alone = linksOf(step).filter((link, way) => link.escort && !linksOf(left)[way]?.escort);
    return [
      ...lost,
      ...unmet.map((need) => `Nobody would have the skill ${nameOf(study, "skill", need.skill ?? "")}, which ${step.name} asks for.`),
      ...alone.map((link) => `Nobody would escort cases from ${step.name} to ${nameOf(study, "step", link.to)}.`),
    ];
  });
}

const canMeet = (study: StudyDocument, { skill }: Need) => !skill || study.teams.some((team) => team.skills?.includes(skill));

/** Makes one case type of two: the shares of the second go to the first, and its own settings with it. */
export function mergeCaseTypes(study: StudyDocument, kept: string, gone: string): void {
  for (const stream of study.streams) {
    for (const mix of [stream.mix ?? [], ...(stream.mix_by_hour ?? []).map((hours) => hours.mix)]) {
      const from = mix.find((part) => part.type === gone);
      const to = mix.find((part) => part.type === kept);
      if (from && to) to.share = round(to.share + from.share);
      else if (from) from.type = kept;
      const place = mix.findIndex((part) => part.type === gone);
      if (place >= 0) mix.splice(place, 1);
    }
    if (stream.kind === "dates") for (const arrival of stream.arrivals) if (arrival.type === gone) arrival.type = kept;
  }
  removePart(study, "type", gone);
}

function withoutTeam(study: StudyDocument, id: string): void {
  onlyNeeds(study, (need) => {
    if (need.prefer) {
      need.prefer = need.prefer.filter((team) => team !== id);
      if (need.prefer.length === 0) delete need.prefer;
    }
    return need.team !== id;
  });
}

function withoutSkill(study: StudyDocument, id: string): void {
  for (const team of study.teams) {
    if (team.skills) team.skills = team.skills.filter((skill) => skill !== id);
    if (team.skills?.length === 0) delete team.skills;
  }
  onlyNeeds(study, (need) => need.skill !== id);
}

function onlyNeeds(study: StudyDocument, stillAsked: (need: Need) => boolean): void {
  for (const step of study.steps) {
    if (step.kind === "serve" && step.needs) step.needs = step.needs.filter(stillAsked);
    for (const link of linksOf(step)) if (link.escort && !stillAsked(link.escort)) delete link.escort;
  }
}

function withoutType(study: StudyDocument, id: string): void {
  const without = (mix: { type: string; share: number }[]) => {
    const left = mix.filter((part) => part.type !== id);
    const total = left.reduce((sum, part) => sum + part.share, 0);
    return left.map((part) => ({ ...part, share: total > 0 ? round(part.share / total) : 1 / left.length }));
  };
  for (const stream of study.streams) {
    if (stream.mix) stream.mix = without(stream.mix);
    for (const hours of stream.mix_by_hour ?? []) hours.mix = without(hours.mix);
    if (stream.kind === "dates") for (const arrival of stream.arrivals) if (arrival.type === id) delete arrival.type;
  }
  for (const step of study.steps) {
    for (const link of linksOf(step)) if (link.share_by_type) delete link.share_by_type[id];
    const work = step.kind === "serve" ? step.work : step.kind === "delay" ? step.time : null;
    if (work && typeof work === "object" && "by_type" in work) delete work.by_type?.[id];
  }
}
