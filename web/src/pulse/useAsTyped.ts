import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { StudyDocument } from "../study/document/types";

const PAUSE = 350;

/** What the server says of the study as it is typed, a moment after the last key; what was said stays until the next is there. */
export function useAsTyped<Answer>(
  name: string,
  study: StudyDocument,
  ask: (study: StudyDocument, signal: AbortSignal) => Promise<Answer>,
) {
  const [asked, setAsked] = useState(study);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(study), PAUSE);
    return () => clearTimeout(timer);
  }, [study]);
  return useQuery({
    queryKey: [name, asked],
    queryFn: ({ signal }) => ask(asked, signal),
    queryKeyHashFn: () => `${name} ${identity(asked)}`,
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
