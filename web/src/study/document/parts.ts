import type { At } from "./addresses";
import type { StudyDocument } from "./types";

/** What of a study can be opened in the sheet, where it stands in the document, and how it is called. */
export const PARTS = {
  step: { list: "steps", word: "Step" },
  stream: { list: "streams", word: "Stream" },
  team: { list: "teams", word: "Team" },
  skill: { list: "skills", word: "Skill" },
  type: { list: "case_types", word: "Case type" },
  trait: { list: "traits", word: "Trait" },
  calendar: { list: "calendars", word: "Calendar" },
  deadline: { list: "deadlines", word: "Deadline" },
  span: { list: "spans", word: "Span" },
  place: { list: "site/places", word: "Place" },
} as const;

export type PartKind = keyof typeof PARTS;

/** What is selected: one thing, or several steps at once. */
export type Selection = { kind: PartKind; id: string; also?: string[] } | null;

/** A name under which someone is remembered, or a skill without a name, as people say it: the study file has an id alone. */
export const inWords = (id: string) => id.replaceAll("-", " ");

export interface Named {
  id: string;
  name: string;
}

export function partsOf(study: StudyDocument, kind: PartKind): Named[] {
  switch (kind) {
    case "step":
      return study.steps;
    case "stream":
      return study.streams;
    case "team":
      return study.teams;
    case "skill":
      return skillsOf(study);
    case "type":
      return study.case_types;
    case "trait":
      return study.traits ?? [];
    case "calendar":
      return study.calendars ?? [];
    case "deadline":
      return study.deadlines ?? [];
    case "span":
      return study.spans ?? [];
    case "place":
      return study.site?.places ?? [];
  }
}

/** The skills that the study lists, and those that its teams have or its steps ask for, which without a name are called by their id. */
function skillsOf(study: StudyDocument): Named[] {
  const listed = study.skills ?? [];
  const asked = study.steps.flatMap((step) => (step.kind === "serve" ? (step.needs ?? []) : []).flatMap((need) => need.skill ?? []));
  const used = new Set([...study.teams.flatMap((team) => team.skills ?? []), ...asked]);
  const others = [...used].filter((id) => !listed.some((each) => each.id === id));
  return [...listed, ...others.map((id) => ({ id, name: inWords(id) }))];
}

export const nameOf = (study: StudyDocument, kind: PartKind, id: string) => partsOf(study, kind).find((part) => part.id === id)?.name ?? id;

export const idsOf = (selection: Selection) => (selection ? [selection.id, ...(selection.also ?? [])] : []);

export function addressOf(selection: NonNullable<Selection>): At {
  return `${PARTS[selection.kind].list}/${idsOf(selection).join(",")}`;
}

/** The thing that an address is in. */
export function partAt(at: At): Selection {
  for (const kind of Object.keys(PARTS) as PartKind[]) {
    const { list } = PARTS[kind];
    if (!at.startsWith(`${list}/`)) continue;
    const id = at.slice(list.length + 1).split("/")[0];
    if (id) return { kind, id };
  }
  return null;
}
