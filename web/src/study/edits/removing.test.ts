import { beforeEach, expect, it } from "vitest";
import { RUN, type StudyDocument } from "../document/types";
import { lossesWithout, removePart } from "./removing";

let study: StudyDocument;

beforeEach(() => {
  study = {
    name: "Library",
    calendars: [{ id: "hours", name: "Hours", weekly: [{ days: ["mon"], from: "09:00", to: "17:00" }] }],
    case_types: [
      { id: "loan", name: "Loan", traits: { urgent: 1 } },
      { id: "return", name: "Return" },
      { id: "question", name: "Question" },
    ],
    traits: [{ id: "urgent", name: "Urgent", start: 0 }],
    streams: [
      {
        id: "door",
        name: "Door",
        kind: "random",
        gap: "5 min",
        to: "desk",
        open: "hours",
        traits: { urgent: 1 },
        mix: [
          { type: "loan", share: 0.5 },
          { type: "return", share: 0.3 },
          { type: "question", share: 0.2 },
        ],
        mix_by_hour: [
          {
            days: ["mon"],
            from: "09:00",
            to: "10:00",
            mix: [
              { type: "loan", share: 0.75 },
              { type: "return", share: 0.25 },
            ],
          },
        ],
      },
      {
        id: "school",
        name: "School",
        kind: "dates",
        to: "desk",
        arrivals: [
          { at: "2027-03-01T09:00", type: "loan" },
          { at: "2027-03-01T09:05", type: "return" },
        ],
      },
    ],
    steps: [
      {
        id: "desk",
        name: "Desk",
        kind: "serve",
        work: { by_type: { loan: "2 min", return: "1 min" }, otherwise: "3 min" },
        needs: [{ team: "clerks" }, { skill: "till", prefer: ["clerks", "trainees"] }],
        open: "hours",
        place: "hall",
        next: [
          { to: "out", share_by_type: { loan: 1, return: 0.5 }, escort: { team: "trainees" } },
          { to: "sorting", share_by_type: { loan: 0, return: 0.5 }, escort: { team: "clerks" } },
        ],
      },
      {
        id: "sorting",
        name: "Sorting",
        kind: "set",
        traits: { urgent: 0 },
        places: [
          { place: "hall", share: 0.5 },
          { place: "cellar", share: 0.5 },
        ],
        next: [{ to: "out" }],
      },
      { id: "out", name: "Out", kind: "exit" },
    ],
    skills: [{ id: "till", name: "Cash till" }],
    teams: [
      { id: "clerks", name: "Clerks", size: 2, place: "hall", skills: ["till"] },
      { id: "trainees", name: "Trainees", size: 1 },
    ],
    site: {
      places: [
        { id: "hall", name: "Hall", x: 0, y: 0 },
        { id: "cellar", name: "Cellar", x: 5, y: 0 },
      ],
    },
    run: { ...RUN, doors: "hours" },
  } as StudyDocument;
});

it("takes a team out of needs, out of those preferred, and out of escorts", () => {
  removePart(study, "team", "clerks");
  expect(study.teams.map((team) => team.id)).toEqual(["trainees"]);
  expect(study.steps[0]).toMatchObject({ needs: [{ prefer: ["trainees"] }], next: [{ escort: { team: "trainees" } }, { to: "sorting" }] });
  expect(JSON.stringify(study.steps)).not.toContain("clerks");
});

it("says before a team or a skill is taken out what steps would be left without", () => {
  expect(lossesWithout(study, "team", "clerks")).toEqual([
    "Desk would need only skill Cash till.",
    "Nobody would have the skill Cash till, which Desk asks for.",
    "Nobody would escort cases from Desk to Sorting.",
  ]);
  expect(lossesWithout(study, "skill", "till")).toEqual(["Desk would need only Clerks."]);
  expect(lossesWithout(study, "skill", "songs")).toEqual([]);
  removePart(study, "skill", "till");
  expect([study.skills, study.teams[0]?.skills, study.steps[0]]).toMatchObject([[], undefined, { needs: [{ team: "clerks" }] }]);
});

it("takes a case type out of mixes, shares and times; dated cases keep coming", () => {
  removePart(study, "type", "loan");
  expect(study.streams[0]).toMatchObject({
    mix: [
      { type: "return", share: 0.6 },
      { type: "question", share: 0.4 },
    ],
    mix_by_hour: [{ mix: [{ type: "return", share: 1 }] }],
  });
  expect(study.streams[1]).toMatchObject({ arrivals: [{ at: "2027-03-01T09:00" }, { type: "return" }] });
  expect(JSON.stringify([study.streams, study.steps])).not.toContain("loan");
});

it("shares a mix out evenly where nothing else was in it", () => {
  const [door] = study.streams;
  if (door)
    door.mix = [
      { type: "loan", share: 1 },
      { type: "return", share: 0 },
      { type: "question", share: 0 },
    ];
  removePart(study, "type", "loan");
  expect(door?.mix?.map((part) => part.share)).toEqual([0.5, 0.5]);
});

it.each([
  ["calendar", "hours"],
  ["trait", "urgent"],
  ["place", "hall"],
  ["stream", "door"],
] as const)("leaves no mention of a %s", (kind, id) => {
  removePart(study, kind, id);
  expect(JSON.stringify(study)).not.toContain(`"${id}"`);
  expect(study.steps).toHaveLength(3);
});
