import { expect, it } from "vitest";
import type { Problem } from "../../api/client";
import { after, type Conflict, type Happening, NOTHING_OPEN, type StudyState } from "./state";

const document = (name: string) => ({ ...NOTHING_OPEN.document, name, teams: [{ id: "clerks", name: "Clerks" }] });
const problem = (what: string): Problem => ({ where: "study", what, mend: "", level: "warning" });
const OPEN: StudyState = after(NOTHING_OPEN, {
  type: "opened",
  id: 7,
  version: 3,
  document: document("Hall"),
  problems: [problem("old")],
  save: "saved",
});
const through = (state: StudyState, ...events: Happening[]) => events.reduce(after, state);
const EDITED = after(OPEN, { type: "edited", document: document("Hall two"), label: "Rename" });

it("opens a study with nothing left of the one before", () => {
  const next = through(
    EDITED,
    { type: "selected", selection: { kind: "team", id: "clerks" }, wanted: "teams/clerks" },
    {
      type: "opened",
      id: 8,
      version: 1,
      document: document("Clinic"),
      problems: [],
      save: "changed",
    },
  );
  expect(next).toMatchObject({ id: 8, version: 1, selection: null, wanted: null, lastEdit: "", save: "changed", conflict: null });
});

it("is changed by an edit, and by none that changes nothing", () => {
  expect(EDITED).toMatchObject({ save: "changed", lastEdit: "Rename", version: 3 });
  expect(after(OPEN, { type: "edited", document: OPEN.document, label: "Nothing" })).toBe(OPEN);
});

it("is saved where nothing was typed meanwhile, else still changed", () => {
  const { document: of } = EDITED;
  const saved: Happening = { type: "saved", of, version: 4, problems: [problem("new")] };
  expect(through(EDITED, { type: "saving" }, saved)).toMatchObject({ save: "saved", version: 4, problems: [problem("new")] });
  const typed = through(EDITED, { type: "saving" }, { type: "edited", document: document("Three"), label: "Rename" }, saved);
  expect(typed).toMatchObject({ save: "changed", version: 4, problems: [problem("old")] });
});

it("believes what is told of this document only", () => {
  expect(after(EDITED, { type: "checked", of: OPEN.document, problems: [] })).toBe(EDITED);
  expect(after(EDITED, { type: "checked", of: EDITED.document, problems: [] }).problems).toEqual([]);
  const refused = after(EDITED, { type: "refused", of: OPEN.document, problems: [problem("of another")] });
  expect(refused).toMatchObject({ save: "refused", problems: [problem("old")] });
});

it("keeps the version that is brought back until it is saved", () => {
  const restoring = after(OPEN, { type: "restoring", version: 1 });
  expect(through(restoring, { type: "saving" }, { type: "unreachable" })).toMatchObject({ restores: 1, save: "unreachable" });
  expect(after(restoring, { type: "saved", of: OPEN.document, version: 5, problems: [] }).restores).toBeNull();
});

it("comes out of a conflict on top of the other's version", () => {
  const conflict: Conflict = { version: 9, theirs: document("Theirs"), both: null, clashes: [], mineChanged: [], theirsChanged: [] };
  const conflicted = after(EDITED, { type: "conflicted", conflict });
  const resolved = after(conflicted, { type: "resolved", document: document("Both"), label: "Keep both" });
  expect(resolved).toMatchObject({ version: 9, conflict: null, save: "changed", lastEdit: "Keep both" });
  expect(resolved.document.name).toBe("Both");
  expect(after(OPEN, { type: "resolved", document: document("Both"), label: "Keep both" })).toBe(OPEN);
});

it("lets go of a selection that undo took away", () => {
  const chosen = after(EDITED, { type: "selected", selection: { kind: "team", id: "clerks" }, wanted: null });
  const back = { ...chosen, whole: { ...chosen.whole, teams: [] } };
  expect(after(back, { type: "travelled", from: chosen.whole, to: null })).toMatchObject({ selection: null, save: "changed" });
  expect(after(chosen, { type: "travelled", from: chosen.whole, to: null })).toBe(chosen);
});

const WITH_ONE = { ...document("Hall"), scenarios: [{ id: "more", name: "More" }] };
const HALL = after(NOTHING_OPEN, { type: "opened", id: 7, version: 3, document: WITH_ONE, problems: [], save: "saved" });
const named = (name: string) => [{ id: "clerks", name }];

it("keeps an edit in a scenario out of the study as it is today", () => {
  const chosen = after(HALL, { type: "chosen", scenario: "more" });
  expect(chosen).toMatchObject({ scenario: "more", save: "saved" });
  const edited = after(chosen, { type: "edited", document: { ...chosen.document, teams: named("More clerks") }, label: "Rename" });
  expect(edited.document.teams).toEqual(named("More clerks"));
  expect(edited).toMatchObject({ save: "changed", editedIn: "more", whole: { teams: named("Clerks") } });
  expect(after(edited, { type: "chosen", scenario: null }).document.teams).toEqual(named("Clerks"));
});

it("goes back to the scenario in which an edit was made, and to today where it is gone", () => {
  const edited = after(HALL, { type: "rewritten", whole: { ...WITH_ONE, teams: named("Others") }, scenario: null, label: "Rename" });
  const back = { ...edited, whole: WITH_ONE };
  expect(after(back, { type: "travelled", from: edited.whole, to: "more" })).toMatchObject({ scenario: "more", document: WITH_ONE });
  expect(after(back, { type: "travelled", from: edited.whole, to: "gone" }).scenario).toBeNull();
});

it("believes what a save tells of the study as it is today, and not of a scenario", () => {
  const chosen = after(HALL, { type: "chosen", scenario: "more" });
  const edited = after(chosen, { type: "edited", document: { ...chosen.document, teams: named("More clerks") }, label: "Rename" });
  const saved = after(edited, { type: "saved", of: edited.whole, version: 4, problems: [problem("of today")] });
  expect(saved).toMatchObject({ save: "saved", version: 4, problems: [] });
});
