import { money, round } from "../findings/figures";
import type { StudyDocument } from "../study/document/types";

export interface Measure {
  name: string;
  unit: string;
  factor: number;
  write: (value: number | null | undefined) => string;
}

/** What an address is called, in which unit it is shown, and by how much it is multiplied for that. */
export function measureOf(address: string, study: StudyDocument): Measure {
  const [subject, id = "", quantity = "", statistic = ""] = address.split("/");
  const named = (list: { id: string; name: string }[]) => list.find((each) => each.id === id)?.name ?? id;
  const of = STATISTICS[statistic] ?? statistic;
  if (subject === "cost") {
    const per = address.endsWith("per:hour") ? "an hour" : address.endsWith("per:day") ? "a day" : "a completed case";
    return { name: "Cost", unit: `${study.currency ?? "EUR"} ${per}`, factor: 1, write: money };
  }
  if (subject === "team") return { name: `${named(study.teams)} at work`, unit: "% of the time", factor: 100, write: round };
  if (subject === "step") return { name: `Wait at ${named(study.steps)}`, unit: `${of}, min`, factor: 1, write: round };
  if (quantity === "completed") return { name: "Cases completed", unit: "in a replication", factor: 1, write: round };
  if (quantity === "abandoned") return { name: "Cases that gave up", unit: "in a replication", factor: 1, write: round };
  const who = id === "all" ? "" : `, ${named(study.case_types)}`;
  return { name: `${quantity === "wait" ? "Wait on the whole way" : "Door to door"}${who}`, unit: `${of}, min`, factor: 1, write: round };
}

const STATISTICS: Record<string, string> = { mean: "mean", p50: "half within", p90: "9 in 10 within" };
