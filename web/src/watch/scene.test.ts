import { expect, it, vi } from "vitest";
import { Player } from "./player";
import { Reel } from "./reel";
import { linesIn, Scene } from "./scene";
import { pieceOf, type Seen, SHARED } from "./shared.fixture";

function told(scene: Scene, moment: number): Seen {
  const cases = [...scene.cases.values()].map(({ who, number, doing, step }) => [who, number, doing, step]);
  const { left, gaveUp } = scene.goneBy(moment, []);
  return {
    moment,
    cases: cases.toSorted((one, other) => (one[0] ?? 0) - (other[0] ?? 0)),
    lines: Object.fromEntries([...linesIn(scene)].map(([step, line]) => [String(step), line.map(({ who }) => who)])),
    members: scene.members.map(({ doing, number, token }) => [doing, number, token]),
    gone: left + gaveUp - scene.piece.left - scene.piece.gaveUp,
  };
}

it.each(SHARED)("sees at every moment what the engine sees (study $seed)", ({ piece, seen }) => {
  const scene = new Scene(pieceOf(piece));
  for (const each of seen) {
    scene.goTo(each.moment);
    expect(told(scene, each.moment)).toEqual(each);
  }
});

it.each(SHARED)("sees the same when it goes back and forth (study $seed)", async ({ piece, seen }) => {
  const whole = pieceOf(piece);
  const outline = { piece: 1000, ends: 1000 };
  const reel = new Reel(
    outline,
    async () => whole,
    () => undefined,
  );
  reel.at(50);
  await Promise.resolve();
  for (let turn = 0; turn < 100; turn++) {
    const each = seen[(turn * 7) % seen.length];
    const scene = each && reel.at(each.moment);
    expect(scene && told(scene, each.moment)).toEqual(each);
  }
});

it("goes from one event to the next and back", async () => {
  const whole = pieceOf(SHARED[0]?.piece ?? "");
  const reel = new Reel(
    { piece: 1000, ends: 1000 },
    async () => whole,
    () => undefined,
  );
  reel.at(40);
  await Promise.resolve();
  const first = reel.next(40, true) ?? 0;
  expect(first).toBeGreaterThan(40);
  expect(reel.next(reel.next(first, true) ?? 0, false)).toBe(first);
  expect([...whole.lines.at]).toContain(first);
});

it("steps back over a piece that has still to come", async () => {
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  const whole = pieceOf(SHARED[0]?.piece ?? "");
  const quiet = { ...whole, lines: { ...whole.lines, at: new Float64Array(0) } };
  let come: (() => void) | undefined;
  const fetch = (begins: number) => new Promise<typeof whole>((done) => (begins > 0 ? done(quiet) : (come = () => done(whole))));
  const reel = new Reel({ piece: 1000, ends: 2000 }, fetch, () => player.come());
  const player = new Player([reel], 2000, 1000, false);
  expect(player.scene).toBeNull();
  await Promise.resolve();
  player.step(false);
  expect(player.moment).toBe(1000);
  come?.();
  await new Promise((done) => setTimeout(done));
  expect(player.moment).toBeLessThan(1000);
});

it("plays two on one clock: the next event is that of either", async () => {
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  const whole = pieceOf(SHARED[0]?.piece ?? "");
  const reelOf = (times: number[], ends: number, hasCome = Promise.resolve()) =>
    new Reel(
      { piece: 2000, ends },
      () => hasCome.then(() => ({ ...whole, lines: { ...whole.lines, at: Float64Array.from(times) } })),
      () => player.come(),
    );
  let letCome = () => {};
  const later = new Promise<void>((done) => {
    letCome = done;
  });
  const player: Player = new Player([reelOf([100, 400, 900], 950), reelOf([250, 1500], 2000, later)], 2000, 0, false);
  const settled = () => new Promise((done) => setTimeout(done));
  player.step(true);
  await settled();
  expect(player.moment, "the second has not come yet").toBe(0);
  letCome();
  await settled();
  const seen = [player.moment];
  for (const forward of [true, true, true, true, true, false, false]) {
    player.step(forward);
    seen.push(player.moment);
  }
  expect(seen).toEqual([100, 250, 400, 900, 1500, 2000, 1500, 900]);
});
