import { shareOf, showsShares } from "../study/document/flow";
import { KIND_WORDS } from "../study/document/kinds";
import { needsInWords, needsOf } from "../study/document/needs";
import { nameOf, type PartKind, partsOf } from "../study/document/parts";
import type { Need, Serve, Step, StepKind, StudyDocument, Work } from "../study/document/types";
import { isByType, linksOf } from "../study/document/types";
import { round } from "../study/edits/links";
import { CONVERTIBLE, turnInto } from "../study/edits/steps";
import { DISCIPLINES } from "../study/values/disciplines";
import { idOf } from "../study/values/ids";
import { readShortForm, shortForm } from "../study/values/shortForm";
import { readNumber } from "../ui/gridText";

/** A column of the table of steps: what it shows of a step, and what becomes of what is typed there. */
export interface StepColumn {
  id: string;
  label: string;
  width: number;
  numbers?: boolean;
  /** What stands in the cell; null where such a step has nothing to fill in. */
  text: (study: StudyDocument, step: Step) => string | null;
  /** Takes over what was typed; an empty text clears. Says what is wrong. */
  put: (study: StudyDocument, step: Step, text: string) => string | null;
}

const workOf = (step: Step): Work | null => (step.kind === "serve" ? step.work : step.kind === "delay" ? step.time : null);

function setWork(step: Step, work: Work): void {
  if (step.kind === "serve") step.work = work;
  if (step.kind === "delay") step.time = work;
}

/** The id of the thing that is called so, whatever the size of the letters. */
function called(study: StudyDocument, kind: PartKind, name: string): string | null {
  const wanted = name.trim().toLowerCase();
  return partsOf(study, kind).find((part) => part.name.toLowerCase() === wanted || part.id === wanted)?.id ?? null;
}

const unknown = (name: string, what: string, known: string[]) =>
  `There is no ${what} “${name.trim()}”. Known are ${known.slice(0, 6).join(", ")}${known.length > 6 ? " …" : ""}.`;

const MOST_IN_LINE: StepColumn = {
  id: "max",
  label: "Most in line",
  width: 72,
  numbers: true,
  text: (_, step) => (step.kind === "serve" ? String(step.line?.max ?? "") : null),
  put: (_, step, text) => {
    if (step.kind !== "serve") return null;
    const read = readNumber(text);
    if (text === "") delete step.line?.max;
    else if ("problem" in read) return `${step.name}: ${read.problem}`;
    else if (!Number.isInteger(read.value) || read.value < 0) return `${step.name}: give a whole number.`;
    else (step.line ??= {}).max = read.value;
    return null;
  },
};

export const SETTINGS: StepColumn[] = [
  {
    id: "name",
    label: "Name",
    width: 150,
    text: (_, step) => step.name,
    put: (_, step, text) => {
      if (!text.trim()) return "A step has to have a name.";
      step.name = text.trim().slice(0, 120);
      return null;
    },
  },
  {
    id: "kind",
    label: "Kind",
    width: 112,
    text: (_, step) => KIND_WORDS[step.kind].word,
    put: (study, step, text) => {
      if (text === KIND_WORDS[step.kind].word) return null;
      const kind = (Object.keys(KIND_WORDS) as StepKind[]).find((each) => KIND_WORDS[each].word === text.trim().toLowerCase());
      if (!kind || !CONVERTIBLE.includes(kind) || !CONVERTIBLE.includes(step.kind))
        return `${step.name} cannot become “${text}”. It can be: ${CONVERTIBLE.map((each) => KIND_WORDS[each].word).join(", ")}.`;
      turnInto(study, step.id, kind);
      return null;
    },
  },
  {
    id: "work",
    label: "What it takes",
    width: 130,
    text: (_, step) => {
      const work = workOf(step);
      return work === null ? null : isByType(work) ? "by case type" : shortForm(work);
    },
    put: (_, step, text) => {
      if (text === "by case type") return null;
      const read = readShortForm(text);
      if ("problem" in read) return `${step.name}: ${read.problem}`;
      setWork(step, read.value);
      return null;
    },
  },
  {
    id: "needs",
    label: "Who it needs",
    width: 170,
    text: (study, step) => (step.kind === "serve" ? needsInWords(study, needsOf(step)) : null),
    put: (study, step, text) => (step.kind === "serve" ? putNeeds(study, step, text) : null),
  },
  {
    id: "discipline",
    label: "Order of the line",
    width: 152,
    text: (_, step) =>
      step.kind === "serve" ? (DISCIPLINES.find((each) => each.value === (step.line?.discipline ?? "first-come"))?.label ?? "") : null,
    put: (_, step, text) => {
      if (step.kind !== "serve") return null;
      const found = DISCIPLINES.find((each) => each.label === text.trim().toLowerCase() || each.value === text.trim().toLowerCase());
      if (text !== "" && !found)
        return `“${text}” is no order of a line. Write one of: ${DISCIPLINES.map((each) => each.label).join("; ")}.`;
      if (!found || found.value === "first-come") delete step.line?.discipline;
      else (step.line ??= {}).discipline = found.value as never;
      return null;
    },
  },
  MOST_IN_LINE,
  {
    id: "patience",
    label: "Patience",
    width: 104,
    text: (_, step) => (step.kind === "serve" ? (step.line?.patience ? shortForm(step.line.patience) : "") : null),
    put: (_, step, text) => {
      if (step.kind !== "serve") return null;
      const read = readShortForm(text);
      if (text === "") delete step.line?.patience;
      else if ("problem" in read) return `${step.name}: ${read.problem}`;
      else (step.line ??= {}).patience = read.value;
      return null;
    },
  },
  {
    id: "gives_up_to",
    label: "Gives up to",
    width: 110,
    text: (study, step) => (step.kind === "serve" ? (step.line?.gives_up_to ? nameOf(study, "step", step.line.gives_up_to) : "") : null),
    put: (study, step, text) => {
      if (step.kind !== "serve") return null;
      const to = called(study, "step", text);
      if (text === "") delete step.line?.gives_up_to;
      else if (!to)
        return unknown(
          text,
          "step",
          study.steps.map((each) => each.name),
        );
      else (step.line ??= {}).gives_up_to = to;
      return null;
    },
  },
  {
    id: "next",
    label: "Where they go",
    width: 210,
    text: (study, step) => (step.kind === "exit" ? null : waysInWords(study, step)),
    put: (study, step, text) => putWays(study, step, text),
  },
  {
    id: "open",
    label: "Open",
    width: 100,
    text: (study, step) =>
      "work" in step || "time" in step || step.kind === "signal"
        ? "open" in step && step.open
          ? nameOf(study, "calendar", step.open)
          : ""
        : null,
    put: (study, step, text) => {
      if (step.kind !== "serve" && step.kind !== "delay" && step.kind !== "signal") return null;
      const id = called(study, "calendar", text);
      if (text === "") delete step.open;
      else if (!id)
        return unknown(
          text,
          "calendar",
          partsOf(study, "calendar").map((each) => each.name),
        );
      else step.open = id;
      return null;
    },
  },
  {
    id: "cost",
    label: "Cost each",
    width: 76,
    numbers: true,
    text: (_, step) => (step.kind === "serve" || step.kind === "delay" || step.kind === "signal" ? String(step.cost ?? "") : null),
    put: (_, step, text) => {
      if (step.kind !== "serve" && step.kind !== "delay" && step.kind !== "signal") return null;
      const read = readNumber(text);
      if (text === "") delete step.cost;
      else if ("problem" in read) return `${step.name}: ${read.problem}`;
      else if (read.value < 0) return `${step.name}: a cost is not below zero.`;
      else step.cost = read.value;
      return null;
    },
  },
];

/** Reads "2 Nurses + Doctors" as numbers and names; a comma or an "and" also parts them, where it is not in a team's name. */
function namedNeeds(study: StudyDocument, text: string): [string | undefined, string][] {
  const read = (part: string): [string | undefined, string] => {
    const [, many, name = ""] = /^(\d+)?\s*(.+)$/.exec(part.trim()) ?? [];
    return [many, name];
  };
  const parts = text.split("+").flatMap((part) => (called(study, "team", read(part)[1]) ? [part] : part.split(/[,;]|\sand\s/)));
  return parts.filter((part) => part.trim()).map(read);
}

/** Reads "Clerks + 2 Rooms + skill errands"; what else is set about a team that stays is kept. */
function putNeeds(study: StudyDocument, step: Serve, text: string): string | null {
  if (text === needsInWords(study, needsOf(step))) return null;
  const needs: Need[] = [];
  for (const [many, name] of namedNeeds(study, text)) {
    const skillNamed = /^skill\s+(.+)$/i.exec(name)?.[1];
    const skill = skillNamed && (called(study, "skill", skillNamed) ?? idOf(skillNamed));
    const team = skill ? null : called(study, "team", name);
    if (!skill && !team)
      return `${step.name}: ${unknown(
        name,
        "team",
        study.teams.map((each) => each.name),
      )}`;
    if (skill && !study.teams.some((each) => each.skills?.includes(skill))) return `${step.name}: no team has the skill “${skillNamed}”.`;
    const before = (step.needs ?? []).find((need) => (team ? need.team === team : need.skill === skill));
    const next: Need = { ...(before ?? (team ? { team } : { skill: skill as string })) };
    if (many && Number(many) > 1) next.count = Number(many);
    else delete next.count;
    needs.push(next);
  }
  step.needs = needs;
  return null;
}

function waysInWords(study: StudyDocument, step: Step): string {
  const links = linksOf(step);
  const plain = showsShares(step) && !links.some((link) => link.share_by_type);
  return links.map((link) => nameOf(study, "step", link.to) + (plain ? ` ${percent(link.share ?? 0)} %` : "")).join(", ");
}

const percent = (share: number) => Number((share * 100).toFixed(4));

/** Reads "Cashier 70 %, Served 30 %", or the one step where all go. */
function putWays(study: StudyDocument, step: Step, text: string): string | null {
  if (step.kind === "exit" || text === waysInWords(study, step)) return null;
  const parts = text
    .split(/,(?!\d)/)
    .map((each) => /^(.+?)(?:\s+(\d+(?:[.,]\d+)?)\s*%)?$/.exec(each.trim()))
    .filter((found) => found !== null);
  const ways = parts.map((found) => ({
    name: found[1] ?? "",
    to: called(study, "step", found[1] ?? ""),
    share: found[2] === undefined ? null : round(Number(found[2].replace(",", ".")) / 100),
  }));
  const bad = ways.find((way) => !way.to);
  if (bad)
    return `${step.name}: ${unknown(
      bad.name,
      "step",
      study.steps.map((each) => each.name),
    )}`;
  const known = linksOf(step);
  const kept = ways.map((way) => ({ ...(known.find((link) => link.to === way.to) ?? {}), to: way.to as string, share: way.share }));
  if (
    ways.length > 1 &&
    step.kind !== "fork" &&
    ways.some((way) => way.share === null) &&
    (ways.length !== known.length || showsShares(step))
  )
    return `${step.name}: write the share behind each way, as in “Cashier 70 %, Served 30 %”.`;
  step.next = kept.map(({ share, ...link }) =>
    share === null || ways.length === 1 ? withoutShare(link, ways.length === 1) : { ...withoutShare(link, true), share },
  );
  return null;
}

function withoutShare<Way extends { to: string }>(way: Way, really: boolean): Way {
  if (!really) return way;
  const { share: _share, share_by_type: _byType, ...rest } = way as Way & { share?: unknown; share_by_type?: unknown };
  return rest as unknown as Way;
}

/** A column per case type with what each step takes for it. */
export function timesByType(study: StudyDocument): StepColumn[] {
  return study.case_types.map((type) => ({
    id: type.id,
    label: type.name,
    width: 140,
    text: (_, step) => {
      const work = workOf(step);
      return work === null ? null : shortForm(isByType(work) ? (work.by_type?.[type.id] ?? work.otherwise) : work);
    },
    put: (_, step, text) => {
      const work = workOf(step);
      if (work === null) return null;
      const read = text === "" ? null : readShortForm(text);
      if (read && "problem" in read) return `${step.name}, ${type.name}: ${read.problem}`;
      const parted = isByType(work) ? work : { by_type: {}, otherwise: work };
      const byType = { ...parted.by_type };
      if (read) byType[type.id] = read.value;
      else delete byType[type.id];
      const left = Object.keys(byType).length + Object.keys(parted.by_trait ?? {}).length;
      setWork(step, left === 0 ? parted.otherwise : { ...parted, by_type: byType });
      return null;
    },
  }));
}

/** One way out of a step, as a row of shares by case type. */
export interface WayRow {
  step: string;
  place: number;
  label: string;
}

export function wayRows(study: StudyDocument): WayRow[] {
  return study.steps
    .filter(showsShares)
    .flatMap((step) =>
      linksOf(step).map((link, place) => ({ step: step.id, place, label: `${step.name} → ${nameOf(study, "step", link.to)}` })),
    );
}

export function shareText(study: StudyDocument, row: WayRow, type: string): string {
  const step = study.steps.find((each) => each.id === row.step);
  const link = step && linksOf(step)[row.place];
  return step && link ? `${percent(shareOf(step, link, type))} %` : "";
}

export function putShare(study: StudyDocument, row: WayRow, type: string, text: string): string | null {
  const step = study.steps.find((each) => each.id === row.step);
  if (!step) return null;
  const read = readNumber(text.replace("%", "") || "0");
  if ("problem" in read) return `${row.label}: ${read.problem}`;
  if (read.value < 0 || read.value > 100) return `${row.label}: give a share from 0 to 100 %.`;
  for (const link of linksOf(step)) {
    link.share_by_type ??= Object.fromEntries(study.case_types.map(({ id }) => [id, link.share ?? 0]));
    delete link.share;
  }
  const link = linksOf(step)[row.place];
  if (link?.share_by_type) link.share_by_type[type] = round(read.value / 100);
  return null;
}
