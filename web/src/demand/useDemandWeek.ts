import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";

export type DemandWeek = Schemas["DemandWeek"];

const PAUSE = 350;

/** An ordinary week of the study as it is typed; what was shown stays until the next one is there. */
export function useDemandWeek(study: StudyDocument) {
  const [asked, setAsked] = useState(study);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(study), PAUSE);
    return () => clearTimeout(timer);
  }, [study]);
  return useQuery({
    queryKey: ["demand", asked],
    queryFn: ({ signal }) => ask(api.POST("/api/pulse/demand", { body: asked, signal })),
    queryKeyHashFn: () => `demand ${identity(asked)}`,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
}

const numbers = new WeakMap<object, number>();
let last = 0;

/** A number for each document: comparing them as texts would take long where there are many dates. */
function identity(study: object): number {
  const known = numbers.get(study);
  if (known !== undefined) return known;
  numbers.set(study, ++last);
  return last;
}
