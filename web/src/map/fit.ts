import type { StudyDocument } from "../study/document/types";
import { detailOf } from "./details";
import { placeLabels } from "./labels";
import { CLOSE, layOut, ROOMY } from "./layout";
import type { MapLayout, Pitch } from "./types";

/** The window through which a map is looked at, in pixels. */
export interface Box {
  width: number;
  height: number;
}

/** A map for a window, and whether all of it is to be seen there at once. */
export interface Fit {
  layout: MapLayout;
  isWhole: boolean;
  choice?: Choice;
}

/** How a map that is whole was made to fit: folded for a nearness or in one line, and what that cost the eye. */
interface Choice {
  pitch: Pitch;
  near: number | null;
  strain: number;
}

/** What the overview takes of the window's width, where the map is seen in parts. */
export const OVERVIEW_ROOM = 84;

/** As small as a map may be shown as a whole before it is looked at in parts. */
const LEAST = 0.55;
/** How near a folded map is tried. */
const NEAR = [1, 0.85, 0.72, 0.6];
/** By how much a folded map that must be whole is made smaller at least until it is. */
const LEAST_CHANGE = 0.96;
/** Flows of more steps than this are never seen whole and legible. */
const SMALL = 40;
const IN_PARTS = 0.9;
/** How much smaller than tried a folded map may come out. */
const AS_WISHED = 0.97;

/** What it costs the eye: a fold, details left out (all of them), a name left out, distance; and a change worth turning the map over. */
const STRAIN = { fold: 1, details: 1.9, name: 3, away: 1.2, change: 0.4 };

/**
 * Lays a flow out for a window: all of it, as near as can be, with few folds and few words left out.
 * A flow that is too long for that is folded to the window's width and looked at in parts, or, where it must be whole, made small.
 * Where it was laid out before, it stays as it was as long as that is about as good, so that an edit does not turn the map over.
 */
export function fitted(study: StudyDocument, box: Box, mustBeWhole = false, before?: Fit): Fit {
  const mayBeWhole = study.steps.length <= SMALL || mustBeWhole;
  const choice = mayBeWhole ? before?.choice : undefined;
  const same = choice && tried(study, box, choice);
  if (same && Math.abs(same.choice.strain - choice.strain) < STRAIN.change) return { ...same, choice };
  let best: Whole | null = null;
  for (const each of mayBeWhole ? wholes(study, box, mustBeWhole) : []) {
    if (!best || each.choice.strain < best.choice.strain) best = each;
    if (best.layout.folds.length === 0 && best.choice.strain < STRAIN.fold) break;
  }
  if (best) return best;
  const layout = layOut(study, { width: (box.width - OVERVIEW_ROOM) / IN_PARTS, near: IN_PARTS });
  return { layout, isWhole: nearnessOf(layout, box) >= IN_PARTS };
}

type Whole = Required<Fit>;

/** Ways to lay a flow out so that all of it is in sight; the last resort is how it is just small enough. */
function* wholes(study: StudyDocument, box: Box, mustBeWhole: boolean): Generator<Whole> {
  let found = false;
  for (const near of study.steps.length <= SMALL ? [null, ...NEAR] : []) {
    for (const pitch of [ROOMY, CLOSE]) {
      const whole = tried(study, box, { pitch, near });
      if (!whole) continue;
      found = true;
      yield whole;
    }
  }
  if (found || !mustBeWhole) return;
  yield smallEnough(study, box);
}

/** A flow folded and made just so small that all of it is in sight: half as near, folds are half as many and half as high. */
function smallEnough(study: StudyDocument, box: Box): Whole {
  for (let near = 1; ; ) {
    const layout = layOut(study, { width: box.width / near, near, pitch: CLOSE });
    const nearness = nearnessOf(layout, box);
    if (nearness >= near * AS_WISHED)
      return { layout, isWhole: true, choice: { pitch: CLOSE, near, strain: strainOf(study, layout, nearness) } };
    near *= Math.min(LEAST_CHANGE, Math.sqrt(nearness / near));
  }
}

/** A flow laid out in one way; null where it is not all in sight then, or too small. */
function tried(study: StudyDocument, box: Box, { pitch, near }: Omit<Choice, "strain">): Whole | null {
  const layout = near === null ? inOneLine(study, box, pitch) : layOut(study, { width: box.width / near, near, pitch });
  const nearness = nearnessOf(layout, box);
  if (nearness < (near === null ? LEAST : near * AS_WISHED)) return null;
  return { layout, isWhole: true, choice: { pitch, near, strain: strainOf(study, layout, nearness) } };
}

/** A flow without folds, with names of the size that they have when all of it is in sight. */
function inOneLine(study: StudyDocument, box: Box, pitch: Pitch): MapLayout {
  const near = nearnessOf(layOut(study, { pitch }), box);
  return layOut(study, { pitch, near: Math.max(near, LEAST) });
}

/** From how near all of a map is in sight. */
export const nearnessOf = ({ width, height }: MapLayout, box: Box) => Math.min(1, box.width / width, box.height / height);

function strainOf(study: StudyDocument, layout: MapLayout, near: number): number {
  const labels = placeLabels(study, layout, stepped(near));
  const nameless = layout.stops.filter((stop) => !labels.get(stop.id)?.name).length;
  const withDetail = layout.stops.filter((stop) => detailOf(study, stop).length > 0);
  const without = withDetail.filter((stop) => (labels.get(stop.id)?.detail?.lines.length ?? 0) < detailOf(study, stop).length).length;
  return (
    STRAIN.fold * layout.folds.length +
    STRAIN.details * (without / Math.max(1, withDetail.length)) +
    STRAIN.name * nameless +
    STRAIN.away * (1 - near)
  );
}

const ZOOM_STEP = 1.12;

/** A nearness in steps, so that words are placed anew only now and then while a map is moved nearer or farther. */
export const stepped = (near: number) => (near >= 1 ? 1 : ZOOM_STEP ** Math.floor(Math.log(near) / Math.log(ZOOM_STEP) + 1e-9));
