import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { filledIn } from "../study/document/types";
import { insertAfter } from "../study/edits/steps";
import { layOut } from "./layout";

import { neighbour } from "./moves";
import { row } from "./row.fixture";
import type { Point } from "./types";

const demo = filledIn(JSON.parse(readFileSync("../demo/residents-hall.json", "utf-8")));

const stop = (layout: ReturnType<typeof layOut>, id: string) => {
  const found = layout.stops.find((each) => each.id === id);
  if (!found) throw new Error(id);
  return found;
};

it("goes from left to right and leads rework below", () => {
  const layout = layOut(demo);
  for (const way of layout.ways) {
    const [from, to] = [stop(layout, way.from), stop(layout, way.to)];
    expect(way.back).toBe(way.from === "identity-desk" && way.to === "photo-booth");
    if (!way.back) expect(from.x).toBeLessThan(to.x);
  }
  const loop = layout.ways.find((way) => way.back);
  expect(loop?.label.y).toBeGreaterThan(stop(layout, "identity-desk").y + 40);
});

it("keeps a line that does not part straight", () => {
  const layout = layOut(demo);
  expect(stop(layout, "kiosk").y).toBe(stop(layout, "greeter").y);
  expect(stop(layout, "photo-booth").y).toBeCloseTo(stop(layout, "identity-desk").y, 6);
});

it("lets only those types call that come there", () => {
  const layout = layOut(demo);
  expect(stop(layout, "kiosk").types).toEqual(["parking", "address", "identity"]);
  expect(stop(layout, "cashier").types).toEqual(["parking", "identity"]);
  expect(layout.ways.find((way) => way.from === "counter" && way.to === "cashier")?.types).toEqual(["parking"]);
});

it.each([1, 12, 60, 300])("lays out %i steps without two stops in one place", (count) => {
  const layout = layOut(row(count));
  expect(layout.stops).toHaveLength(count + 2);
  const near = layout.stops.flatMap((one, n) =>
    layout.stops.slice(n + 1).filter((other) => Math.abs(one.x - other.x) + Math.abs(one.y - other.y) <= 80),
  );
  expect(near).toEqual([]);
});

it("draws every diagonal at 45°", () => {
  for (const way of layOut(demo).ways) {
    for (const track of way.tracks) {
      const line = track.pieces[0] as Point[];
      line.slice(1).forEach(({ x, y }, n) => {
        const [wide, high] = [Math.abs(x - (line[n]?.x ?? 0)), Math.abs(y - (line[n]?.y ?? 0))];
        expect(Math.min(wide, high, Math.abs(wide - high))).toBeLessThan(0.25);
      });
    }
  }
});

it("does not fail on a study that is half done", () => {
  const broken = filledIn({ ...demo, steps: demo.steps.filter((step) => step.id !== "cashier") });
  expect(layOut(broken).stops.map((each) => each.id)).not.toContain("cashier");
  expect(layOut(filledIn({ name: "Empty" })).ways).toEqual([]);
});

it("follows the lines with the arrow keys", () => {
  const layout = layOut(demo);
  expect(neighbour(layout, "kiosk", "ArrowRight")?.id).toBe("greeter");
  expect(neighbour(layout, "kiosk", "ArrowLeft")?.id).toBe("stream:visitors");
  expect(neighbour(layout, "counter", "ArrowDown")?.id).toBe("photo-booth");
  expect(neighbour(layout, "photo-booth", "ArrowUp")?.id).toBe("counter");
  expect(neighbour(layout, "served", "ArrowRight")).toBeUndefined();
});

const FOLD = 880;

it.each([1, 12, 60, 300])("folds %i steps into the width of a window, one fold below the other", (count) => {
  const layout = layOut(row(count), { width: FOLD });
  expect(layout.width).toBeLessThanOrEqual(FOLD + 200);
  expect(layout.stops).toHaveLength(count + 2);
  const places = new Set(layout.stops.map((each) => `${Math.round(each.x / 80)} ${Math.round(each.y / 80)}`));
  expect(places.size).toBe(count + 2);
  for (const each of layout.stops) expect(each.x).toBeLessThan(layout.width);
  if (count > 6) expect(layout.folds.length).toBeGreaterThan(0);
});

it("says where a way leads back to when that is on another fold", () => {
  const layout = layOut(row(12), { width: FOLD });
  const back = layout.ways.filter((way) => way.back);
  const across = back.filter((way) => Math.abs(stop(layout, way.from).y - stop(layout, way.to).y) > 200);
  expect(back.length).toBeGreaterThan(0);
  for (const way of across) expect(way.stub).toBe(`back to ${stop(layout, way.to).name}`);
});

it("moves nothing to the left of where a step is put in", () => {
  const before = layOut(demo);
  const changed = structuredClone(demo);
  insertAfter(changed, "identity-desk", "delay");
  const after = layOut(changed);
  const place = stop(before, "identity-desk").column;
  for (const one of before.stops.filter((each) => each.column <= place && each.kind !== "exit")) {
    const other = stop(after, one.id);
    expect([one.id, other.x, other.y - stop(after, "kiosk").y]).toEqual([one.id, one.x, one.y - stop(before, "kiosk").y]);
  }
});
