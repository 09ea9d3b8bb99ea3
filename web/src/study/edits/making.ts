import { type PartKind, partsOf } from "../document/parts";
import type { StudyDocument } from "../document/types";
import { freshId } from "./links";

/** Makes a new thing of a kind with a name of its own and returns its id. */
export function makePart(study: StudyDocument, kind: PartKind): string {
  const named = (name: string, list: { id: string }[]) => ({ id: freshId(name, list), name });
  switch (kind) {
    case "step":
      return makeExit(study);
    case "stream": {
      const stream = {
        ...named("New stream", study.streams),
        kind: "random",
        gap: { dist: "exponential", mean: "10 min" },
        to: study.streams[0]?.to ?? study.steps[0]?.id ?? "",
      } as const;
      const type = study.case_types[0];
      study.streams.push(type ? { ...stream, mix: [{ type: type.id, share: 1 }] } : stream);
      return stream.id;
    }
    case "team": {
      const team = { ...named("New team", study.teams), size: 1, rate: 0 };
      study.teams.push(team);
      return team.id;
    }
    case "skill": {
      const skill = { id: freshId("New skill", partsOf(study, "skill")), name: "New skill" };
      (study.skills ??= []).push(skill);
      return skill.id;
    }
    case "type":
      return addCaseType(study).id;
    case "trait": {
      const trait = { ...named("New trait", (study.traits ??= [])), kind: "number", start: 0 } as const;
      study.traits.push(trait);
      return trait.id;
    }
    case "calendar": {
      const weekly = [{ days: ["mon", "tue", "wed", "thu", "fri"] as const, from: "08:00", to: "17:00" }];
      const calendar = {
        ...named("Opening hours", (study.calendars ??= [])),
        weekly: weekly.map((hours) => ({ ...hours, days: [...hours.days] })),
      };
      study.calendars.push(calendar);
      return calendar.id;
    }
    case "deadline": {
      const [from, to] = firstAndLast(study);
      const deadline = { ...named("Deadline", (study.deadlines ??= [])), from, to, within: "1 h", then: { divert: exitOf(study) } };
      study.deadlines.push(deadline);
      return deadline.id;
    }
    case "span": {
      const [from, to] = firstAndLast(study);
      const span = { ...named("Span", (study.spans ??= [])), from: { step: from }, to: { step: to } };
      study.spans.push(span);
      return span.id;
    }
    case "place": {
      study.site ??= {};
      const places = (study.site.places ??= []);
      const place = { ...named("New place", places), x: 10 * places.length, y: 0 };
      places.push(place);
      return place.id;
    }
  }
}

/** Names a skill; one that only has an id so far is listed. */
export function nameSkill(study: StudyDocument, id: string, name: string): void {
  const skills = (study.skills ??= []);
  const skill = skills.find((each) => each.id === id);
  if (skill) skill.name = name;
  else skills.push({ id, name });
}

/** Makes an exit for cases that are done. */
export const makeExit = (study: StudyDocument) => addExit(study, { name: "Leaves" });

/** Makes an exit for cases that leave a line before they were served. */
export const makeAbandoned = (study: StudyDocument) => addExit(study, { name: "Left unserved", abandoned: true });

function addExit(study: StudyDocument, settings: { name: string; abandoned?: boolean }): string {
  const id = freshId(settings.name, study.steps);
  study.steps.push({ id, ...settings, kind: "exit" });
  return id;
}

/** Adds a case type; it comes once a stream's mix gives it a share. */
export function addCaseType(study: StudyDocument, name = "New type") {
  const used = new Set(study.case_types.map((type) => type.colour));
  const colour = [1, 2, 3, 4, 5, 6, 7, 8].find((each) => !used.has(each)) ?? 1;
  const type = { id: freshId(name, study.case_types), name, colour };
  study.case_types.push(type);
  const model = study.case_types[0];
  for (const step of study.steps) {
    for (const link of step.kind === "exit" ? [] : (step.next ?? [])) {
      if (link.share_by_type && model) link.share_by_type[type.id] = link.share_by_type[model.id] ?? 0;
    }
  }
  return type;
}

function firstAndLast(study: StudyDocument): [string, string] {
  const first = study.streams[0]?.to ?? study.steps[0]?.id ?? "";
  return [first, exitOf(study)];
}

function exitOf(study: StudyDocument): string {
  return (study.steps.find((step) => step.kind === "exit") ?? study.steps.at(-1))?.id ?? "";
}
