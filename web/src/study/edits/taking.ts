import type { Schemas } from "../../api/client";
import { setAt, valueAt } from "../document/addresses";
import type { Step, StudyDocument } from "../document/types";

/** Places of the document, and what is put there together. */
export interface Taken {
  at: string;
  set: { at: string; value: unknown }[];
}
type Source = Schemas["Source"];

const BY_TYPE = "/by_type/";

/** Takes over what a log proposes, with where it comes from; `tests/shared/taking.json` holds this law for both languages. */
export function takeOver(study: StudyDocument, { at, set }: Taken, source: Source): void {
  for (const place of set) {
    if (place.at === "/steps/-") addStep(study, place.value as Step);
    else {
      if (place.at.includes(BY_TYPE)) tellTypesApart(study, place.at.slice(1, place.at.indexOf(BY_TYPE)));
      setAt(study, place.at.slice(1), place.value ?? undefined);
    }
  }
  study.sources = { ...study.sources, [at]: source };
}

function addStep(study: StudyDocument, step: Step): void {
  if (!study.steps.some((each) => each.id === step.id)) study.steps.push(step);
}

/** Lets types have durations of their own where one was for all. */
function tellTypesApart(study: StudyDocument, at: string): void {
  const work = valueAt(study, at);
  const isApart = typeof work === "object" && work !== null && "otherwise" in work;
  if (!isApart) setAt(study, at, { by_type: {}, otherwise: JSON.parse(JSON.stringify(work)) as unknown });
}
