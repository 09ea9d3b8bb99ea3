import type { Schemas } from "../api/client";
import { type Parsed, parseDuration } from "../study/values/durations";
import { scaleOf } from "../study/values/scales";

type Title = Schemas["Title"];

/** A figure's value as it is typed: minutes as a duration, shares in percent. */
export function shownValue(value: number | string | null | undefined, title: Title): string {
  if (value == null) return "";
  if (typeof value === "string") return value;
  return title.unit === "minutes" ? `${value} min` : String(Number((value * scaleOf(title).factor).toPrecision(10)));
}

/** Reads what is typed for a figure; nothing typed is no value. */
export function readValue(text: string, { unit }: Title): Parsed<string> {
  if (text.trim() === "") return { value: "" };
  if (unit === "minutes") return parseDuration(text);
  const number = Number(text.replace(",", "."));
  return Number.isFinite(number) ? { value: String(number) } : { problem: `“${text.trim()}” is not a number.` };
}

/** What was typed for a figure as the study keeps it. */
export function keptValue(typed: string, title: Title): number | string | undefined {
  if (typed === "") return undefined;
  return title.unit === "minutes" ? typed : Number(typed) / scaleOf(title).factor;
}

/** What stands behind a field for a figure's value. */
export const suffixOf = (title: Title) => (title.unit === "minutes" ? undefined : title.unit === "share" ? "%" : title.of);
