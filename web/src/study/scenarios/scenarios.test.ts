import { readFileSync } from "node:fs";
import fc from "fast-check";
import { produce } from "immer";
import { expect, it } from "vitest";
import { setAt } from "../document/addresses";
import { PARTS, type PartKind } from "../document/parts";
import { filledIn, linksOf, type StudyDocument } from "../document/types";
import { moveAfter, pasteAfter, stretchOf } from "../edits/clipboard";
import { deleteStep, reorder } from "../edits/links";
import { makePart } from "../edits/making";
import { type RemovableKind, removePart } from "../edits/removing";
import { newShift, toAlwaysThere, toRoster } from "../edits/rosters";
import { branch, insertAfter, insertBefore } from "../edits/steps";
import { turnStream } from "../edits/streams";
import { applied, type Scenario, withScenarioAs } from "./scenarios";

const read = (name: string): StudyDocument =>
  filledIn(JSON.parse(readFileSync(`${import.meta.dirname}/../../../../tests/flowcore/formats/2/${name}.json`, "utf8")));
const STUDIES = Object.fromEntries(["residents-hall", "phone-line", "animal-clinic"].map((name) => [name, read(name)]));

/** A study with one more scenario, which changes nothing yet. */
const withOne = (study: StudyDocument): StudyDocument => ({
  ...study,
  scenarios: [...(study.scenarios ?? []), { id: "tried", name: "Tried" }],
});

/** What a document says, without what is left out by being empty. */
function said(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(said);
  if (typeof value !== "object" || value === null) return value;
  const kept = Object.entries(value).filter(([, each]) => each != null && !(Array.isArray(each) && each.length === 0));
  return Object.fromEntries(kept.map(([key, each]) => [key, said(each)]));
}

const KINDS = Object.keys(PARTS).filter((kind) => kind !== "step" && kind !== "place" && kind !== "skill") as RemovableKind[];
type Dice = (many: number) => number;
const one = <Item>(list: Item[], dice: Dice) => list[dice(list.length)] as Item;

const served = (study: StudyDocument) => study.steps.filter(({ kind }) => kind === "serve");

/** The edits that screens make, each somewhere by chance. */
const EDITS: Record<string, (study: StudyDocument, dice: Dice) => unknown> = {
  "a duration": (study, dice) =>
    setAt(study, `steps/${one(served(study), dice).id}/work`, { dist: "exponential", mean: `${1 + dice(9)} min` }),
  "a name": (study, dice) => setAt(study, `teams/${one(study.teams, dice).id}/name`, `Team ${dice(99)}`),
  "room in a line": (study, dice) => setAt(study, `steps/${one(served(study), dice).id}/line/max`, dice(3) === 0 ? undefined : 1 + dice(9)),
  "people of a shift": (study, dice) => {
    const team = one(study.teams, dice);
    const row = team.roster?.[dice(team.roster.length)];
    if (row) row.people = dice(9);
  },
  "a break": (study, dice) => {
    const team = one(study.teams, dice);
    const row = team.roster?.[dice(team.roster.length)];
    if (row) row.breaks = dice(3) === 0 ? [] : [...(row.breaks ?? []), { after: `${1 + dice(5)} h`, length: "20 min" }];
  },
  "one more shift": (study, dice) => {
    const team = one(study.teams, dice);
    if (team.roster) team.roster.splice(dice(team.roster.length + 1), 0, { ...newShift(), people: 1 + dice(5) });
  },
  "one shift fewer": (study, dice) => {
    const team = one(study.teams, dice);
    if (team.roster && team.roster.length > 1) team.roster.splice(dice(team.roster.length), 1);
  },
  "with shifts or without": (study, dice) => {
    const team = one(study.teams, dice);
    if (team.roster) toAlwaysThere(team);
    else toRoster(team);
  },
  "a share": (study, dice) => {
    const links = linksOf(one(study.steps, dice));
    if (links.length < 2) return;
    const share = (1 + dice(9)) / (10 * (links.length - 1));
    links.forEach((link, n) => {
      link.share = n === 0 ? Math.round(1e9 * (1 - share * (links.length - 1))) / 1e9 : share;
    });
  },
  insert: (study, dice) => insertAfter(study, one(study.steps, dice).id, one(["serve", "delay", "choose"] as const, dice) as "serve"),
  "insert before": (study, dice) => insertBefore(study, one(study.steps, dice).id, "delay"),
  branch: (study, dice) => branch(study, one(study.steps, dice).id, "serve"),
  "delete a step": (study, dice) => deleteStep(study, one(study.steps, dice).id),
  duplicate: (study, dice) => {
    const { id, kind } = one(study.steps, dice);
    if (kind !== "exit") pasteAfter(study, stretchOf(study, [id]), { step: id });
  },
  move: (study, dice) => moveAfter(study, [one(study.steps, dice).id], one(study.steps, dice).id),
  order: (study, dice) => reorder(study.case_types, one(study.case_types, dice)?.id ?? "", dice(2) ? 1 : -1),
  make: (study, dice) => makePart(study, one(KINDS, dice) as PartKind),
  remove: (study, dice) => {
    const kind = one(KINDS, dice);
    const parts = (study[PARTS[kind].list as "teams"] ?? []) as { id: string }[];
    if (parts.length > 1) removePart(study, kind, one(parts, dice).id);
  },
  "how cases come": (study, dice) =>
    turnStream(study, one(study.streams, dice)?.id ?? "", one(["random", "profile", "appointments"] as const, dice)),
};

/** A study edited so many times under its scenario, as the store does it. */
function edited(study: StudyDocument, names: string[], seed: number): { study: StudyDocument; shown: StudyDocument } {
  let luck = seed;
  const dice: Dice = (many) => {
    luck = (luck * 48271 + 11) % 2147483647;
    return many > 0 ? luck % many : 0;
  };
  return names.reduce(
    ({ study: whole }, name) => {
      const shown = produce(applied(whole, tried(whole)).document, (draft) => void EDITS[name]?.(draft, dice));
      return { study: withScenarioAs(whole, "tried", shown), shown };
    },
    { study, shown: study },
  );
}

const tried = (study: StudyDocument) => study.scenarios?.find(({ id }) => id === "tried") as Scenario;
const someEdits = fc.array(fc.constantFrom(...Object.keys(EDITS)), { minLength: 1, maxLength: 6 });

it("keeps every edit under a scenario out of the baseline, and shows it again when the difference is applied", () => {
  fc.assert(
    fc.property(fc.constantFrom(...Object.keys(STUDIES)), someEdits, fc.integer({ min: 1, max: 2 ** 30 }), (name, edits, seed) => {
      const before = withOne(STUDIES[name] as StudyDocument);
      const { study, shown } = edited(before, edits, seed);
      const { scenarios: _, ...rest } = study;
      const { scenarios: __, ...restBefore } = before;
      expect(said(rest)).toEqual(said(restBefore));
      const again = applied(study, tried(study));
      expect({ changes: again.changes, levers: again.levers }).toEqual({ changes: [], levers: [] });
      expect(said({ ...again.document, scenarios: [] })).toEqual(said({ ...shown, scenarios: [] }));
    }),
    { numRuns: 600, seed: 14 },
  );
});

it("says nothing where nothing differs any more", () => {
  const before = withOne(STUDIES["residents-hall"] as StudyDocument);
  const { study } = edited(before, ["a duration", "insert", "people of a shift"], 5);
  expect(tried(withScenarioAs(study, "tried", { ...before, scenarios: study.scenarios })).changes).toEqual([]);
});

const hall = withOne(STUDIES["residents-hall"] as StudyDocument);
const shows = (study: StudyDocument, change: (draft: StudyDocument) => void) => withScenarioAs(study, "tried", produce(study, change));
const counter = (study: StudyDocument) => study.steps.find(({ id }) => id === "counter");

it("is a difference that reads well: what is meant is named, and only what differs is there", () => {
  const whole = shows(hall, (draft) => {
    setAt(draft, "steps/counter/line/max", 9);
    const way = linksOf(counter(draft) as StudyDocument["steps"][number])[0];
    if (way) way.travel = "30 s";
  });
  expect(tried(whole).changes).toEqual([
    { op: "test", path: "/steps/counter/next/0/to", value: linksOf(counter(hall) as StudyDocument["steps"][number])[0]?.to },
    { op: "add", path: "/steps/counter/next/0/travel", value: "30 s" },
    { op: "add", path: "/steps/counter/line", value: { max: 9 } },
  ]);
});

it("follows the baseline where it changes elsewhere, and says what no longer fits", () => {
  const whole = shows(hall, (draft) => {
    setAt(draft, "steps/counter/work", "7 min");
    setAt(draft, "teams/clerks/size", 9);
  });
  const elsewhere = produce(whole, (draft) => setAt(draft, "steps/greeter/work", "1 min"));
  const shown = applied(elsewhere, tried(elsewhere));
  expect(shown.changes).toEqual([]);
  expect(shown.document.steps.find(({ id }) => id === "greeter")).toMatchObject({ work: "1 min" });
  const gone = produce(whole, (draft) => void deleteStep(draft, "counter"));
  const rest = applied(gone, tried(gone));
  expect(rest.changes).toEqual([0]);
  expect(rest.document.teams.find(({ id }) => id === "clerks")).toMatchObject({ size: 9 });
  const editedOn = withScenarioAs(
    gone,
    "tried",
    produce(rest.document, (draft) => setAt(draft, "teams/clerks/size", 8)),
  );
  expect(tried(editedOn).changes).toContainEqual({ op: "replace", path: "/steps/counter/work", value: "7 min" });
});

it("changes nothing in a list whose rows are others by now", () => {
  const team = { ...hall.teams[0], id: "crew", name: "Crew", size: undefined, roster: [{ ...newShift(), people: 2 }] };
  const study = { ...hall, teams: [...hall.teams, team] } as StudyDocument;
  const whole = shows(study, (draft) => setAt(draft, "teams/crew/roster/0/people", 5));
  const later = produce(
    whole,
    (draft) => void draft.teams.at(-1)?.roster?.unshift({ days: ["sat"], from: "10:00", to: "12:00", people: 1 }),
  );
  const { document, changes } = applied(later, tried(later));
  expect(changes.length).toBe(tried(later).changes?.length);
  expect(document.teams.at(-1)?.roster?.map(({ people }) => people)).toEqual([1, 2]);
});

it("moves a lever where all that it drives is given one value, and lets it be where that is as today", () => {
  const lever = { id: "crew", name: "Crew", sets: ["/teams/clerks/size", "/teams/greeters/size"] };
  const study = { ...hall, levers: [lever] };
  const one = shows(study, (draft) => setAt(draft, "teams/clerks/size", 7));
  expect(tried(one)).toMatchObject({ levers: {}, changes: [{ op: "replace", path: "/teams/clerks/size", value: 7 }] });
  const both = shows(study, (draft) => setAt(draft, "teams/clerks,greeters/size", 7));
  expect(tried(both)).toMatchObject({ levers: { crew: 7 }, changes: [] });
  const shown = applied(both, tried(both)).document;
  const apart = withScenarioAs(
    both,
    "tried",
    produce(shown, (draft) => setAt(draft, "teams/greeters/size", 2)),
  );
  expect(tried(apart)).toMatchObject({ levers: { crew: 7 }, changes: [{ op: "replace", path: "/teams/greeters/size", value: 2 }] });
  expect(tried(withScenarioAs(apart, "tried", { ...study, scenarios: apart.scenarios }))).toMatchObject({ levers: {}, changes: [] });
});

it("gives what all scenarios share to the study", () => {
  const whole = shows(hall, (draft) => {
    draft.run.replications = 77;
    setAt(draft, "teams/clerks/size", 4);
  });
  expect(whole.run.replications).toBe(77);
  expect(whole.teams).toEqual(hall.teams);
  expect(tried(whole).changes).toHaveLength(1);
});

it("keeps the doors of a scenario, which are the service's, apart from how it is run", () => {
  const study = withOne(STUDIES["phone-line"] as StudyDocument);
  const whole = withScenarioAs(
    study,
    "tried",
    produce(study, (draft) => removePart(draft, "calendar", study.run.doors ?? "")),
  );
  expect(whole.run).toEqual(study.run);
  expect(tried(whole).changes).toContainEqual({ op: "remove", path: "/run/doors" });
  expect(applied(whole, tried(whole)).document.run.doors).toBeUndefined();
});

it("tells the other language how differences are applied", async () => {
  const cases = Array.from({ length: 40 }, (_, n) => {
    const [name, study] = Object.entries(STUDIES)[n % 3] as [string, StudyDocument];
    const names = Object.keys(EDITS).filter((each) => !["make", "remove", "delete a step", "branch"].includes(each));
    const chosen = [names[n % names.length], names[(7 * n + 3) % names.length], names[(5 * n + 8) % names.length]] as string[];
    const { study: whole, shown } = edited(withOne(study), chosen, 1000 + n);
    const differing = Object.entries(shown).filter(([key, value]) => key !== "scenarios" && value !== study[key as "teams"]);
    const { levers, changes } = tried(whole);
    return { study: name, edits: chosen, levers: levers ?? {}, changes, after: Object.fromEntries(differing) };
  });
  const lines = cases.map((each) => `  ${JSON.stringify(each)}`).join(",\n");
  await expect(`[\n${lines}\n]\n`).toMatchFileSnapshot("../../../../tests/shared/scenarios.json");
});
