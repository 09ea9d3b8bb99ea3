import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { filledIn, type StudyDocument } from "../study/document/types";
import { mostWaiting } from "./details";
import { type Fit, fitted, nearnessOf, stepped } from "./fit";
import { boxesOf, moved, placeLabels } from "./labels";
import type { Box } from "./obstacles";
import { row } from "./row.fixture";
import type { MapLayout, Point } from "./types";

const demo = (name: string): StudyDocument => filledIn(JSON.parse(readFileSync(`../demo/${name}.json`, "utf-8")));
const hall = demo("residents-hall");
const phone = demo("phone-line");
const clinic = demo("animal-clinic");

const AT_1280 = { width: 840, height: 600 };
const AT_1024 = { width: 600, height: 600 };
const HISTORY = { width: 520, height: 640 };

function inSight({ layout, isWhole }: Fit, box: { width: number; height: number }): number {
  expect(isWhole).toBe(true);
  const near = nearnessOf(layout, box);
  expect(layout.width * near).toBeLessThanOrEqual(box.width + 1);
  expect(layout.height * near).toBeLessThanOrEqual(box.height + 1);
  return near;
}

/** The words on a map as rectangles, each with the stop that it belongs to. */
function wordsOn(study: StudyDocument, layout: MapLayout, zoom: number) {
  const labels = placeLabels(study, layout, zoom);
  return layout.stops.flatMap((stop) =>
    Object.entries(labels.get(stop.id) ?? {}).flatMap(([part, text]) =>
      boxesOf(text).map((box, n) => ({
        what: `${part} of ${stop.id}: ${text.lines[n]}`,
        owner: `${part} of ${stop.id}`,
        box: moved(box, stop),
      })),
    ),
  );
}

const contains = ({ left, right, top, bottom }: Box, { x, y }: Point) => x > left && x < right && y > top && y < bottom;

function pointsAlong(layout: MapLayout): Point[] {
  const pieces = layout.ways.flatMap((way) => way.tracks.flatMap((track) => track.pieces));
  return pieces.flatMap((piece) =>
    piece.slice(1).flatMap((to, n) => {
      const from = piece[n] as Point;
      const count = Math.max(1, Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / 2));
      return Array.from({ length: count + 1 }, (_, k) => ({
        x: from.x + ((to.x - from.x) * k) / count,
        y: from.y + ((to.y - from.y) * k) / count,
      }));
    }),
  );
}

it.each([
  ["the hall", hall, AT_1280, 0],
  ["the phone line", phone, AT_1280, 0],
  ["the clinic", clinic, AT_1280, 1],
  ["the hall", hall, AT_1024, 1],
  ["the phone line", phone, AT_1024, 1],
] as const)("shows all of %s with its names, folded no more than it must be", (_, study, box, folds) => {
  const fit = fitted(study, box);
  const near = inSight(fit, box);
  expect(fit.layout.folds).toHaveLength(folds);
  const labels = placeLabels(study, fit.layout, stepped(near));
  for (const stop of fit.layout.stops) {
    expect([stop.id, labels.get(stop.id)?.name?.lines.join(" ")]).toEqual([stop.id, stop.name]);
    expect([stop.id, labels.get(stop.id)?.most?.lines[0]]).toEqual([stop.id, mostWaiting(study, stop)?.toString()]);
  }
});

it.each([
  ["the hall", hall],
  ["the phone line", phone],
  ["the clinic", clinic],
  ["60 steps", row(60)],
  ["300 steps", row(300)],
] as const)("shows all of %s in a small pane", (_, study) => {
  inSight(fitted(study, HISTORY, true), HISTORY);
});

it.each([
  ["the hall", hall],
  ["the phone line", phone],
  ["the clinic", clinic],
  ["60 steps", row(60)],
] as const)("keeps words clear of lines, stops and each other: %s", (_, study) => {
  for (const [box, mustBeWhole] of [
    [AT_1280, false],
    [AT_1024, false],
    [HISTORY, true],
  ] as const) {
    const { layout } = fitted(study, box, mustBeWhole);
    const points = pointsAlong(layout);
    for (const zoom of [stepped(nearnessOf(layout, box)), 1]) {
      const words = wordsOn(study, layout, zoom);
      expect(words.length).toBeGreaterThan(0);
      for (const { what, owner, box } of words) {
        expect([what, points.filter((point) => contains(box, point))]).toEqual([what, []]);
        expect([what, layout.stops.filter((stop) => contains(box, stop)).map((stop) => stop.id)]).toEqual([what, []]);
        const over = words.filter(
          (other) =>
            other.owner !== owner &&
            other.box.left < box.right &&
            other.box.right > box.left &&
            other.box.top < box.bottom &&
            other.box.bottom > box.top,
        );
        expect([what, over.map((other) => other.what)]).toEqual([what, []]);
      }
    }
  }
});

it("keeps names at 12 pixels and lets the less important give way", () => {
  const study = filledIn({ ...row(120), steps: row(120).steps.map((step) => ({ ...step, name: `Counter of the hall ${step.name}` })) });
  const { layout } = fitted(study, HISTORY, true);
  const zoom = stepped(nearnessOf(layout, HISTORY));
  const names = [...placeLabels(study, layout, zoom).values()].flatMap(({ name }) => name ?? []);
  for (const name of names) expect(name.size * zoom).toBeGreaterThanOrEqual(11.999);
  expect(names.length).toBeLessThan(layout.stops.length);
});

it.each([420, 520, 620, 720, 820, 920, 1020])("does not fold before the exits alone, %i wide", (width) => {
  for (const study of [hall, clinic]) {
    const { layout } = fitted(study, { width, height: 2000 });
    const last = layout.folds.at(-1);
    if (!last) continue;
    const below = layout.stops.filter((stop) => stop.y > last.left.top);
    expect(below.some((stop) => stop.kind !== "exit")).toBe(true);
  }
});

it("leaves a map folded as it was while that is about as good", () => {
  const before = fitted(clinic, AT_1280);
  const renamed = { ...clinic, steps: clinic.steps.map((step) => ({ ...step, name: step.name.slice(0, 8) })) };
  expect(fitted(renamed, AT_1280, false, before).choice).toBe(before.choice);
  const short = { ...clinic, steps: clinic.steps.slice(0, 2).concat(clinic.steps.filter((step) => step.kind === "exit")) };
  expect(fitted(short, AT_1280, false, before).layout.folds).toEqual([]);
});
