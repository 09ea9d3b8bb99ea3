import type { PartKind } from "./parts";
import type { StudyDocument } from "./types";

/** Takes a calendar, trait, deadline, span or place out of a study, and every mention of it. */
export function removePart(study: StudyDocument, kind: Extract<PartKind, "calendar" | "trait" | "deadline" | "span" | "place">, id: string): void {
  const others = <Part extends { id: string }>(list: Part[] | undefined) => (list ?? []).filter((each) => each.id !== id);
  switch (kind) {
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
  }
}
