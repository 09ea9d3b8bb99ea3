import type { StudyDocument } from "../study/document/types";
import { detailOf, mostWaiting } from "./details";
import { AWAY, CLEAR, DETAIL, inLines, LETTER, LONGEST_BESIDE, NAME, sizeAt } from "./names";
import { type Box, Obstacles } from "./obstacles";
import { type ShareText, sharesOn, stubText } from "./shares";
import { TRACK_GAP } from "./tracks";
import type { MapLayout, Point, Stop } from "./types";

/** Words at a stop, in its own coordinates: `y` is the foot of the first line. */
export interface PlacedText {
  lines: string[];
  x: number;
  y: number;
  size: number;
  anchor: "start" | "middle";
  isBold: boolean;
}

/** What stands at a stop; what has no room is left out. */
export interface StopLabels {
  name?: PlacedText;
  detail?: PlacedText;
  /** How many may wait, beside the mark of the waiting room. */
  most?: PlacedText;
}

/** From how near who works at a stop and how long is shown. */
export const DETAIL_FROM = 0.55;

/** How far lines of words are apart, in sizes of them. */
export const LEADING = 1.2;
const LINE = { types: 4, side: 2 };
const GLYPH = { wide: 10, high: 13 };
const NAME_GAP = 22;
const DETAIL_GAP = 16;
const NAME_LINES = [15, 11, 8];
const DETAIL_LINES = [21, 15, 11];
const MOST_SHIFTS = [0, -8, 8, -16, -24];
const OVER_DOTS = 24;
/** How far words may rather be shifted than parted into more lines. */
const PARTED = 15;
/** How much higher or lower a name may stand, in sizes of it. */
const RAISED = [0, 0.8, 1.6];
const LOWERED = [0, 1.2];
const BEGIN = -2;
const ASCENT = 0.8;
const DESCENT = 0.25;
/** How far below the middle of a letter its foot is. */
const MIDDLE = 0.35;
const SHIFTS = [0, 10, -10, 20, -20, 32, -32, 46, -46];

/** How far the lines that call at a stop reach above and below its middle. */
export const halfOf = (stop: Stop) => ((Math.max(stop.types.length, 1) - 1) * TRACK_GAP) / 2;

/** The bracket around the approach to a stop whose waiting room holds only so many. */
export function waitingRoom(stop: Stop, flat: number): Box {
  const half = halfOf(stop) + 7;
  return { left: 2 - flat, right: -14, top: -half, bottom: half };
}

/**
 * Finds a place for the words at every stop, clear of lines, marks and each other; the more important come first.
 * What is told below a name is who works there and how long, if nothing else is given. Words rather stand beside what is `kept` free.
 */
export function placeLabels(
  study: StudyDocument,
  layout: MapLayout,
  zoom: number,
  tell = (stop: Stop) => detailOf(study, stop),
  kept: Box[] = [],
): Map<string, StopLabels> {
  const taken = obstaclesOn(study, layout, zoom);
  const avoided = new Obstacles();
  for (const box of kept) avoided.add(box);
  const labels = new Map(layout.stops.map((stop): [string, StopLabels] => [stop.id, {}]));
  const stops = layout.stops.toSorted((one, other) => importance(other) - importance(one));
  const put = (part: keyof StopLabels, candidatesOf: (stop: Stop, label: StopLabels) => Iterable<PlacedText>) => {
    for (const stop of stops) {
      const label = labels.get(stop.id) as StopLabels;
      const found =
        firstFree(candidatesOf(stop, label), stop, layout, taken, avoided) ??
        (kept.length > 0 ? firstFree(candidatesOf(stop, label), stop, layout, taken) : undefined);
      if (found) label[part] = found;
    }
  };
  put("name", (stop) => namePlaces(stop, zoom));
  put("most", (stop) => {
    const most = mostWaiting(study, stop);
    return most === null ? [] : mostPlaces(most, stop, layout.pitch.flat, zoom);
  });
  if (zoom >= DETAIL_FROM) put("detail", (stop, label) => detailPlaces(tell(stop), stop, label, zoom));
  return labels;
}

/** A name where it would stand if there were nothing else. */
export const usualName = (stop: Stop, zoom: number) => namePlaces(stop, zoom).next().value as PlacedText;

const KIND_WEIGHT: Partial<Record<Stop["kind"], number>> = { serve: 2, stream: 2, exit: 2, choose: -1, fork: -1, join: -1 };

/** Stops with work, beginnings and ends come before others, and the more case types call, the sooner. */
const importance = (stop: Stop) => (KIND_WEIGHT[stop.kind] ?? 1) * 100 + stop.types.length;

function obstaclesOn(study: StudyDocument, layout: MapLayout, zoom: number): Obstacles {
  const taken = new Obstacles();
  for (const way of layout.ways) {
    for (const track of way.tracks) for (const piece of track.pieces) taken.addLine(piece, way.side ? LINE.side : LINE.types);
    const texts = [...(zoom >= DETAIL_FROM ? sharesOn(study, way, zoom) : []), stubText(way, zoom)];
    for (const text of texts) if (text) taken.add(boxOfShare(text));
  }
  for (const stop of layout.stops) {
    const high = halfOf(stop) + GLYPH.high;
    taken.add({ left: stop.x - GLYPH.wide, right: stop.x + GLYPH.wide, top: stop.y - high, bottom: stop.y + high });
    if (mostWaiting(study, stop) !== null) taken.add(moved(waitingRoom(stop, layout.pitch.flat), stop));
  }
  for (const { left, right } of layout.folds)
    for (const { x, top, bottom } of [left, right])
      taken.addLine(
        [
          { x, y: top },
          { x, y: bottom },
        ],
        1,
      );
  return taken;
}

function firstFree(
  candidates: Iterable<PlacedText>,
  stop: Stop,
  layout: MapLayout,
  taken: Obstacles,
  avoided?: Obstacles,
): PlacedText | undefined {
  for (const text of candidates) {
    const boxes = boxesOf(text).map((box) => moved(box, stop));
    if (!boxes.every((box) => isOn(layout, box) && taken.isFree(box) && (avoided?.isFree(box) ?? true))) continue;
    for (const box of boxes) taken.add(box);
    return text;
  }
}

const isOn = ({ width, height }: MapLayout, { left, right, top, bottom }: Box) =>
  left >= 0 && right <= width && top >= 0 && bottom <= height;

/** The rectangle that each line of words takes up, with a little room around it. */
export function boxesOf({ lines, x, y, size, anchor, isBold }: PlacedText): Box[] {
  return lines.map((line, n) => {
    const width = line.length * LETTER[isBold ? "bold" : "plain"] * size;
    const left = anchor === "start" ? x : x - width / 2;
    const foot = y + n * LEADING * size;
    return { left: left - CLEAR, right: left + width + CLEAR, top: foot - size * ASCENT, bottom: foot + size * DESCENT };
  });
}

const boxOfShare = ({ words, x, y, size }: ShareText) => boxesOf({ lines: [words], x, y, size, anchor: "middle", isBold: true })[0] as Box;

export const moved = ({ left, right, top, bottom }: Box, { x, y }: Point): Box => ({
  left: left + x,
  right: right + x,
  top: top + y,
  bottom: bottom + y,
});

/** The places of a name, the best first: an exit's beside it, a stream's at the beginning of its lines, others above or below. */
function* namePlaces(stop: Stop, zoom: number): Generator<PlacedText> {
  if (stop.kind === "stream") return yield* streamPlaces(stop, zoom);
  const text = { size: sizeAt(NAME, zoom), isBold: true };
  const { size } = text;
  if (stop.kind === "exit") {
    for (const lines of wraps(stop.name, [LONGEST_BESIDE, ...NAME_LINES]))
      yield { ...text, lines, x: AWAY, y: size * (MIDDLE - (heightOf(lines) - 1) / 2), anchor: "start" };
    return;
  }
  const variants = inOrder(wraps(stop.name, NAME_LINES));
  for (const raised of RAISED)
    for (const { lines, x } of variants) yield { ...text, lines, x, y: above(stop, lines, size) - raised * size, anchor: "middle" };
  for (const lowered of LOWERED)
    for (const { lines, x } of variants) yield { ...text, lines, x, y: below(stop, size) + lowered * size, anchor: "middle" };
}

/** The same for a stream: below or above the beginning of its lines. */
function* streamPlaces(stop: Stop, zoom: number): Generator<PlacedText> {
  const text = { size: sizeAt(NAME, zoom), isBold: true, x: BEGIN, anchor: "start" } as const;
  const variants = wraps(stop.name, NAME_LINES);
  for (const lines of variants) yield { ...text, lines, y: besideBelow(stop, text.size) };
  for (const lines of variants) yield { ...text, lines, y: -halfOf(stop) - GLYPH.high - (heightOf(lines) - 1 + DESCENT) * text.size };
}

/** How high some lines are, in sizes of their letters. */
const heightOf = (lines: string[]) => 1 + (lines.length - 1) * LEADING;

const above = (stop: Stop, lines: string[], size: number) => -halfOf(stop) - NAME_GAP - (heightOf(lines) - 1) * size;
const below = (stop: Stop, size: number) => halfOf(stop) + DETAIL_GAP + size;
const besideBelow = (stop: Stop, size: number) => halfOf(stop) + GLYPH.high + size;

/**
 * The places of who works at a stop and how long, the best first: below the lines, or below a name that stands there.
 * Where there is no room for both, how long alone.
 */
function* detailPlaces(detail: string[], stop: Stop, { name }: StopLabels, zoom: number): Generator<PlacedText> {
  if (!name) return;
  const text = { size: sizeAt(DETAIL, zoom), isBold: false, anchor: name.anchor };
  const foot = name.y > 0 ? name.y + (heightOf(name.lines) - 1 + DESCENT) * name.size + text.size : null;
  for (const shown of [detail, detail.slice(1)]) {
    const variants = shown.length > 0 ? detailWraps(shown) : [];
    if (stop.kind === "stream") for (const lines of variants) yield { ...text, lines, x: BEGIN, y: foot ?? besideBelow(stop, text.size) };
    else if (foot !== null) for (const lines of variants) yield { ...text, lines, x: name.x, y: foot };
    else for (const { lines, x } of inOrder(variants)) yield { ...text, lines, x, y: below(stop, text.size) };
  }
}

/** The places of the number of a waiting room: under the bracket around the approach, or over it and over the dots of those who wait. */
function* mostPlaces(most: number, stop: Stop, flat: number, zoom: number): Generator<PlacedText> {
  const { left, bottom } = waitingRoom(stop, flat);
  const size = sizeAt(DETAIL, zoom);
  for (const y of [bottom + size, -halfOf(stop) - OVER_DOTS])
    for (const shift of MOST_SHIFTS) yield { lines: [`${most}`], x: left + shift, y, size, anchor: "start", isBold: false };
}

/** Every variant at every distance from the middle, those first that are little parted and little shifted. */
function inOrder(variants: string[][]): { lines: string[]; x: number }[] {
  const all = variants.flatMap((lines, n) => SHIFTS.map((x) => ({ lines, x, cost: n * PARTED + Math.abs(x) })));
  return all.toSorted((one, other) => one.cost - other.cost);
}

const wraps = (name: string, widths: number[]) => different(widths.map((longest) => inLines(name, longest)));

const detailWraps = (detail: string[]) => different(DETAIL_LINES.map((longest) => detail.flatMap((words) => inLines(words, longest))));

function different(variants: string[][]): string[][] {
  return [...new Map(variants.map((lines) => [lines.join("\n"), lines])).values()];
}
