import type { Schemas } from "../api/client";
import { nameOf } from "../study/document/parts";
import { type Distribution, isByType, type Link, type StudyDocument, type Work } from "../study/document/types";
import { scaled } from "../study/scenarios/levers";
import { daysInWords, minuteOfDay } from "../study/values/days";
import { minutes } from "../study/values/durations";
import { percent, round } from "../study/values/figures";
import { paidMinutes, type RosterRow } from "../study/values/rosters";
import { shortForm } from "../study/values/shortForm";
import type { Fitted, Proposal } from "./useProposals";

/** Which of the values that a log gives for a duration is taken: the shape at a place of those that come near, or what was seen. */
export type Pick = number | "observed";
const DIGITS = 3;

export type Picks = Record<string, Pick | undefined>;

/** A proposal with the shape that was picked instead of the one that is proposed. */
export function withPick(proposal: Proposal, pick: Pick | undefined): Proposal {
  const { fitted, factor, at } = proposal;
  if (pick === undefined || !fitted) return proposal;
  const fit = pick === "observed" ? undefined : fitted.fits[pick];
  const value = scaled(fit ? fit.value : fitted.as_observed, factor ?? 1);
  const set = proposal.set.map((place) => (place.at === at ? { at, value } : place));
  return { ...proposal, new: value, set, method: fit ? `${fit.dist} by maximum likelihood` : "as observed" };
}

/** Which of the values is the proposed one. */
export function pickOf(proposal: Proposal): Pick {
  const { fitted } = proposal;
  return fitted?.fits[0] && proposal.method !== "as observed" ? 0 : "observed";
}

/** A value in one cell of a table. */
export function inShort(study: StudyDocument, proposal: Proposal, value: unknown): string {
  if (value === null || value === undefined) return "none";
  switch (proposal.kind) {
    case "time":
      return timeInShort(value as Work, proposal.fitted ?? null);
    case "shares":
      return sharesInShort(study, value as Link[]);
    case "arrivals":
      return `${round((value as number[]).reduce((sum, each) => sum + each, 0))} a week`;
    case "mix":
      return (value as Schemas["MixPart"][]).map(({ type, share }) => `${nameOf(study, "type", type)} ${percent(share)}`).join(", ");
    case "roster":
      return rosterInShort(value as RosterRow[]);
    case "trait":
      return startInShort(value as TraitStart);
    case "booking":
      return bookingInShort(value as number | Schemas["Slots"][] | Distribution);
  }
}

function timeInShort(value: Work, fitted: Fitted | null): string {
  if (typeof value === "object" && isByType(value)) return "by type";
  if (typeof value === "object" && value.dist === "empirical")
    return `as observed, ${fitted ? `${round(fitted.mean)} min` : "many values"}`;
  return readable(shortForm(value as Distribution));
}

/** Numbers with the digits that a reader can use. */
export const readable = (text: string) => text.replace(/\d+\.\d+/g, (number) => String(Number(Number(number).toPrecision(DIGITS))));

function sharesInShort(study: StudyDocument, links: Link[]): string {
  if (links.some((link) => link.share_by_type)) return "by type";
  return links.map(({ to, share }) => `${nameOf(study, "step", to)} ${tenths(share ?? 1)}`).join(", ");
}

const tenths = (share: number) => `${Number((100 * share).toFixed(1))} %`;

type TraitStart = string | number | { dist: string } | { shares: Record<string, number> };

function startInShort(value: TraitStart): string {
  if (typeof value !== "object") return String(value);
  if ("shares" in value)
    return Object.entries(value.shares)
      .map(([name, share]) => `${name} ${tenths(share)}`)
      .join(", ");
  return value.dist === "empirical" ? "as observed" : value.dist;
}

function bookingInShort(value: number | Schemas["Slots"][] | Distribution): string {
  if (typeof value === "number") return tenths(value);
  if (Array.isArray(value)) return `${value.reduce((sum, each) => sum + each.days.length * slotsOf(each), 0)} slots a week`;
  if (typeof value === "object" && value.dist === "empirical") return "as observed";
  return readable(shortForm(value));
}

const slotsOf = (slots: Schemas["Slots"]) =>
  Math.ceil((minuteOfDay(slots.to) - minuteOfDay(slots.from)) / minutes(slots.every)) * (slots.places ?? 1);

/** Slots in words: "Monday to Friday 09:00–12:00, every 20 min, 2 places". */
export const slotsInWords = ({ days, from, to, every, places = 1 }: Schemas["Slots"]) =>
  `${daysInWords(days)} ${from}–${to}, every ${every}, ${places} ${places === 1 ? "place" : "places"}`;

function rosterInShort(rows: RosterRow[]): string {
  if (rows.length === 0) return "always there";
  const people = Math.max(...["mon", "tue", "wed", "thu", "fri", "sat", "sun"].map((day) => peopleOn(rows, day)));
  const hours = rows.reduce((sum, row) => sum + paidMinutes(row), 0) / 60;
  return `${people} at most, ${round(hours)} paid h a week`;
}

const peopleOn = (rows: RosterRow[], day: string) =>
  rows.reduce((sum, row) => sum + ((row.days as string[]).includes(day) ? row.people : 0), 0);

/** A shift in words: "Mon to Fri 08:00–16:00, 3 people". */
export function rowInWords({ days, from, to, people, breaks }: RosterRow): string {
  const who = `${people} ${people === 1 ? "person" : "people"}`;
  return `${daysInWords(days)} ${from}–${to}, ${who}${breaks?.length ? ", with breaks" : ""}`;
}
