import { expect, it } from "vitest";
import { fitted } from "../map/fit";
import { halfOf } from "../map/labels";
import type { Stop } from "../map/types";
import { filledIn } from "../study/document/types";
import { type Dot, type Drawn, placesOf, standsOf } from "./places";
import { DOING, Scene } from "./scene";
import { pieceOf, type Seen, SHARED, type Shared } from "./shared.fixture";
import { reachOf, type Stage, stageOf } from "./stage";

const [MOST_IN_LINE, MOST_IN_ROW, MOST_INSIDE, MOST_PEOPLE] = [18, 9, 6, 21];

function staged({ study, members }: Shared): Stage {
  const document = filledIn(study);
  return stageOf(document, fitted(document, { width: 840, height: 600 }, true).layout, { members, waiting: {} });
}

/** Calls with what the engine sees, and what is drawn, at each moment. */
function atEveryMoment(shared: Shared, look: (seen: Seen, drawn: Drawn, stage: Stage) => void): void {
  const stage = staged(shared);
  const scene = new Scene(pieceOf(shared.piece));
  for (const seen of shared.seen) {
    scene.goTo(seen.moment);
    look(seen, placesOf(scene, seen.moment, stage, 0, 1), stage);
  }
}

/** What is drawn in the order in which it stands before a stop: the nearest first, row upon row. */
const inOrder = (dots: Dot[]) => dots.toSorted((one, other) => other.y - one.y || other.x - one.x).map(({ seen }) => seen.who);

const wordsAt = ({ counts }: Drawn, stop: Stop, anchor: string) =>
  counts
    .filter((each) => each.anchor === anchor && Math.abs(each.x - stop.x) < 130 && Math.abs(each.y - stop.y) < 60)
    .map(({ words }) => words);

it.each(SHARED)("draws every line in the order in which it is called (study $seed)", (shared) => {
  atEveryMoment(shared, ({ lines }, drawn, stage) => {
    for (const [step, line] of Object.entries(lines)) {
      const stop = stage.stops[Number(step)] as Stop;
      const dots = drawn.dots.filter(({ seen }) => line.includes(seen.who));
      expect(inOrder(dots)).toEqual(line.slice(0, MOST_IN_LINE));
      expect(dots.every(({ x, y }) => x < stop.x && y < stop.y - halfOf(stop))).toBe(true);
      if (line.length > MOST_IN_ROW) expect(wordsAt(drawn, stop, "end")).toContain(String(line.length));
    }
  });
});

it.each(SHARED)("draws who is served inside the stop, or says how many, and nobody twice (study $seed)", (shared) => {
  atEveryMoment(shared, ({ cases }, drawn, stage) => {
    const whos = drawn.dots.map(({ seen }) => seen.who);
    expect(new Set(whos).size).toBe(whos.length);
    const served = cases.filter(([, , doing]) => doing === DOING.atWork || doing === DOING.blocked);
    for (const step of new Set(served.map((each) => each[3] ?? -1))) {
      const stop = stage.stops[step] as Stop;
      const inside = drawn.dots.filter(({ x, y }) => Math.abs(x - stop.x) < 10 && Math.abs(y - stop.y) < reachOf(stop) + 16);
      const here = served.filter((each) => each[3] === step).map(([who]) => who);
      if (inside.length > 0) expect(inside.map(({ seen }) => seen.who)).toEqual(expect.arrayContaining(here));
      else
        expect(
          wordsAt(drawn, stop, "middle")
            .map(Number)
            .some((many) => many > MOST_INSIDE && many >= here.length),
        ).toBe(true);
    }
  });
});

it.each(SHARED)("draws every member under a stop, as the engine has them (study $seed)", (shared) => {
  atEveryMoment(shared, ({ members }, { people, counts }, stage) => {
    const firsts = shared.members.map((_, team) => shared.members.slice(0, team).reduce((sum, size) => sum + size, 0));
    for (const { team, member, seen } of people) {
      const [doing, number, token] = members[(firsts[team] ?? 0) + member] ?? [];
      expect([seen.doing, seen.number, seen.token]).toEqual([doing, number, token]);
    }
    const more = counts.map(({ words }) => Number(/and (\d+) more/.exec(words)?.[1] ?? 0)).reduce((sum, each) => sum + each, 0);
    const belonging = shared.members.reduce((sum, size, team) => sum + ((stage.homes[team] ?? -1) >= 0 ? size : 0), 0);
    expect(people.length + more).toBeGreaterThanOrEqual(belonging);
    if (more > 0) expect(people.length).toBeGreaterThanOrEqual(MOST_PEOPLE);
  });
});

it("keeps room before a stop for its longest line, and under it for those who work there", () => {
  const [shared] = SHARED as [Shared];
  const bare = staged(shared);
  const home = bare.homes.find((each) => each >= 0) ?? 0;
  const stop = bare.stops[home] as Stop;
  const longest = bare.longest.map((_, step) => (step === home ? 30 : 0));
  const [line, ...members] = standsOf({ ...bare, longest }, 1);
  expect(line?.right).toBeLessThan(stop.x);
  expect(line?.bottom).toBeLessThan(stop.y);
  expect(members.some(({ left, right, top }) => left < stop.x && right > stop.x && top > stop.y)).toBe(true);
});

it("lets members stand in one row where nobody works beside them, else in as many as they need", () => {
  const [shared] = SHARED as [Shared];
  const bare = staged(shared);
  const home = bare.homes.find((each) => each >= 0) ?? 0;
  const stage = { ...bare, homes: bare.homes.map(() => home), sizes: bare.sizes.map((_, team) => (team === 0 ? 9 : 0)), longest: [] };
  const heightOf = (beside: number) => {
    const [box] = standsOf({ ...stage, manned: bare.manned.map(() => false), beside: bare.stops.map(() => beside) }, 1);
    return (box?.bottom ?? 0) - (box?.top ?? 0);
  };
  expect(heightOf(100) / heightOf(Number.POSITIVE_INFINITY)).toBe(2);
});
