import { useState } from "react";
import type { Schemas } from "../api/client";

type Entry = Schemas["StudyEntry"];

export type SortKey = "name" | "changed_at" | "runs";

export interface Order {
  by: SortKey;
  descending: boolean;
}

/** The studies whose name has what is sought, in an order: the latest changed first, until another is chosen. */
export function listed(studies: Entry[], sought: string, { by, descending }: Order): Entry[] {
  const words = sought.trim().toLowerCase().split(/\s+/);
  const found = studies.filter((study) => words.every((word) => study.name.toLowerCase().includes(word)));
  const sign = descending ? -1 : 1;
  const compare = (one: Entry, other: Entry) =>
    by === "runs" ? (one.runs ?? 0) - (other.runs ?? 0) : one[by].localeCompare(other[by], "en", { numeric: true });
  return found.toSorted((one, other) => sign * compare(one, other));
}

export function useListed(studies: Entry[]) {
  const [sought, setSought] = useState("");
  const [order, setOrder] = useState<Order>({ by: "changed_at", descending: true });
  return { shown: listed(studies, sought, order), sought, setSought, order, setOrder };
}
