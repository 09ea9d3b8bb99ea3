import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import type { Dot, Drawn, Person } from "./places";
import { STATE } from "./scene";

/** The colours of what is drawn. */
export interface Paint {
  ink: string;
  soft: string;
  paper: string;
  types: string[];
}

/** The colours by their names, as a picture takes them, whatever its theme. */
export function coloursOf(study: StudyDocument): Paint {
  return {
    ink: "var(--ink)",
    soft: "var(--ink-3)",
    paper: "var(--paper)",
    types: (study.case_types ?? []).map(({ id }) => colourOf(study, id)),
  };
}

/** The colours as they are now in some element, as a canvas takes them. */
export function paintOf(study: StudyDocument, within: Element = document.documentElement): Paint {
  const style = getComputedStyle(within);
  const now = (colour: string) => style.getPropertyValue(/var\((.+)\)/.exec(colour)?.[1] ?? "--line-1").trim();
  const { ink, soft, paper, types } = coloursOf(study);
  return { ink: now(ink), soft: now(soft), paper: now(paper), types: types.map(now) };
}

/** The colours of the day, whatever the theme. */
export function paintOfDay(study: StudyDocument): Paint {
  const day = document.createElement("div");
  day.dataset.theme = "day";
  document.body.append(day);
  const paint = paintOf(study, day);
  day.remove();
  return paint;
}

/** What a moment is drawn with: a canvas, or what makes a picture of lines of it. */
export type Pen = Pick<
  CanvasRenderingContext2D,
  | "arc"
  | "beginPath"
  | "clip"
  | "closePath"
  | "fill"
  | "fillRect"
  | "fillStyle"
  | "fillText"
  | "font"
  | "lineTo"
  | "lineWidth"
  | "moveTo"
  | "rect"
  | "restore"
  | "save"
  | "setLineDash"
  | "stroke"
  | "strokeStyle"
  | "strokeText"
  | "textAlign"
>;

/** How large everything on a map is that is so near. */
export const sizeAt = (near: number) => Math.max(near, 0.9);

const RADIUS = 4.2;
const PERSON = 5.4;

/** Wipes a canvas. */
export function wipe(pen: CanvasRenderingContext2D): void {
  const { width, height } = pen.canvas;
  pen.save();
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.clearRect(0, 0, width, height);
  pen.restore();
}

/** Draws everything; `near` is how large the map is. */
export function draw(pen: Pen, { dots, people, counts }: Drawn, near: number, paint: Paint, followed: number | null): void {
  const size = sizeAt(near);
  for (const person of people) drawPerson(pen, person, near, size, paint);
  for (const dot of dots) drawDot(pen, dot, near, size, paint, dot.seen.number === followed);
  pen.font = `700 ${12.5 * size}px "Overpass Variable", sans-serif`;
  pen.fillStyle = paint.ink;
  pen.strokeStyle = paint.paper;
  pen.lineWidth = 3;
  for (const { x, y, words, anchor } of counts) {
    pen.textAlign = anchor === "middle" ? "center" : anchor;
    pen.strokeText(words, x * near, y * near);
    pen.fillText(words, x * near, y * near);
  }
}

function drawDot(pen: Pen, dot: Dot, near: number, size: number, paint: Paint, isFollowed: boolean): void {
  const [x, y, r] = [dot.x * near, dot.y * near, RADIUS * size];
  const colour = paint.types[dot.seen.type] ?? paint.ink;
  if (isFollowed) circle(pen, x, y, r + 4, { stroke: paint.ink, width: 2 });
  pen.beginPath();
  if (dot.form === "branch") diamond(pen, x, y, r);
  else if (dot.form === "companion") pen.rect(x - r * 0.8, y - r * 0.8, 1.6 * r, 1.6 * r);
  else pen.arc(x, y, r, 0, 2 * Math.PI);
  pen.fillStyle = dot.form === "ring" ? paint.paper : colour;
  pen.strokeStyle = dot.form === "ring" ? colour : paint.paper;
  pen.lineWidth = dot.form === "ring" ? 2 : 1.2;
  pen.fill();
  pen.stroke();
  if (dot.form === "batch") circle(pen, x, y, r + 2.6, { stroke: colour, width: 1.6 });
  if (dot.form === "blocked") bar(pen, x + r + 2, y, r + 2, paint.ink);
}

interface Line {
  stroke: string;
  width: number;
  dash?: number[];
}

function circle(pen: Pen, x: number, y: number, r: number, { stroke, width, dash = [] }: Line): void {
  pen.beginPath();
  pen.setLineDash(dash);
  pen.arc(x, y, r, 0, 2 * Math.PI);
  pen.strokeStyle = stroke;
  pen.lineWidth = width;
  pen.stroke();
  pen.setLineDash([]);
}

function diamond(pen: Pen, x: number, y: number, r: number): void {
  pen.moveTo(x, y - r - 0.5);
  pen.lineTo(x + r + 0.5, y);
  pen.lineTo(x, y + r + 0.5);
  pen.lineTo(x - r - 0.5, y);
  pen.closePath();
}

function bar(pen: Pen, x: number, y: number, half: number, colour: string): void {
  pen.beginPath();
  pen.moveTo(x, y - half);
  pen.lineTo(x, y + half);
  pen.strokeStyle = colour;
  pen.lineWidth = 2;
  pen.stroke();
}

/** A member: filled at work, a ring while free, half on a break, hatched while called away, dotted while not there. */
function drawPerson(pen: Pen, { x: left, y: top, seen }: Person, near: number, size: number, paint: Paint): void {
  const [x, y, r] = [left * near, top * near, PERSON * size];
  drawState(pen, x, y, r, seen.doing, paint);
  if (seen.token === 1 && seen.doing !== STATE.off) {
    pen.fillStyle = paint.ink;
    pen.fillRect(x - r, y + r + 2, 2 * r, 1.8);
  }
}

/** The mark of what a member does. */
export function drawState(pen: Pen, x: number, y: number, r: number, state: number, paint: Paint): void {
  if (state === STATE.off || state === STATE.absent) {
    circle(pen, x, y, r, { stroke: paint.soft, width: 1.2, dash: [1.5, 2.5] });
    if (state === STATE.absent) bar(pen, x, y, r * 0.6, paint.soft);
    return;
  }
  pen.beginPath();
  pen.arc(x, y, r, 0, 2 * Math.PI);
  pen.fillStyle = state === STATE.working ? paint.ink : paint.paper;
  pen.fill();
  if (state === STATE.onBreak || state === STATE.unpaidBreak) {
    pen.beginPath();
    pen.arc(x, y, r, Math.PI, 2 * Math.PI);
    pen.fillStyle = paint.ink;
    pen.fill();
  }
  if (state === STATE.interrupted) hatch(pen, x, y, r, paint.ink);
  if (state === STATE.walking) bar(pen, x, y, r * 0.9, paint.ink);
  circle(pen, x, y, r, { stroke: paint.ink, width: 1.8 });
}

function hatch(pen: Pen, x: number, y: number, r: number, colour: string): void {
  pen.save();
  pen.beginPath();
  pen.arc(x, y, r, 0, 2 * Math.PI);
  pen.clip();
  pen.beginPath();
  for (let shift = -2 * r; shift <= 2 * r; shift += 3.2) {
    pen.moveTo(x + shift - r, y + r);
    pen.lineTo(x + shift + r, y - r);
  }
  pen.strokeStyle = colour;
  pen.lineWidth = 1.3;
  pen.stroke();
  pen.restore();
}
