import type { StudyDocument } from "../study/document/types";
import { fileNameOf, saveFile } from "../ui/files";
import { savePng, saveSvg, standalone } from "../ui/saving";
import { coloursOf, type Paint, type Pen, paintOfDay } from "./drawing";
import { SvgPen } from "./svgPen";

const SVG = "http://www.w3.org/2000/svg";
const FRAMES = 30;
const FILM = "video/webm";
/** How many pixels of a film are one of the picture. */
const SHARPER = 2;

/** Lines and stops, what moves on them, drawn anew, and what stands above them: the clock in words. */
export interface Scenery {
  study: StudyDocument;
  ground: SVGSVGElement;
  drawOn: (pen: Pen, paint: Paint) => void;
  left: number;
  top: number;
  words: () => string;
}

/** Saves what is seen as a picture. */
export function saveMoment({ study, ground, drawOn, left, top, words }: Scenery, kind: "svg" | "png"): Promise<void> {
  const group = document.createElementNS(SVG, "g");
  group.setAttribute("transform", `translate(${left} ${top})`);
  drawOn(new SvgPen(group), coloursOf(study));
  const clock = document.createElementNS(SVG, "text");
  clock.textContent = words();
  for (const [name, value] of Object.entries({ x: 10, y: 26, "font-size": 22, "font-weight": 700, fill: "var(--ink)" }))
    clock.setAttribute(name, String(value));
  ground.append(group, clock);
  const saving = (kind === "svg" ? saveSvg : savePng)(ground, words());
  group.remove();
  clock.remove();
  return saving;
}

/** Whether this browser can make a film of a canvas. */
export const canFilm = () => typeof MediaRecorder !== "undefined" && MediaRecorder.isTypeSupported(FILM);

/** Makes a film of what is seen from now on; returns what ends and saves it. */
export async function film(scenery: Scenery, listen: (listener: () => void) => () => void): Promise<() => void> {
  const { study, ground, drawOn, left, top, words } = scenery;
  const { width, height } = ground.getBoundingClientRect();
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [Math.round(SHARPER * width), Math.round(SHARPER * height)];
  const pen = canvas.getContext("2d");
  const paint = paintOfDay(study);
  const backdrop = new Image();
  backdrop.src = URL.createObjectURL(new Blob([await standalone(ground, words())], { type: "image/svg+xml" }));
  await backdrop.decode();
  const show = () => {
    if (!pen) return;
    pen.setTransform(SHARPER, 0, 0, SHARPER, 0, 0);
    pen.drawImage(backdrop, 0, 0, width, height);
    pen.textAlign = "start";
    pen.font = '700 22px "Overpass Variable", sans-serif';
    pen.fillStyle = paint.ink;
    pen.fillText(words(), 10, 26);
    pen.translate(left, top);
    drawOn(pen, paint);
  };
  show();
  const deaf = listen(show);
  const recorder = new MediaRecorder(canvas.captureStream(FRAMES), { mimeType: FILM });
  const parts: Blob[] = [];
  recorder.ondataavailable = ({ data }) => parts.push(data);
  recorder.onstop = () => saveFile(new Blob(parts, { type: FILM }), `${fileNameOf(words())}.webm`, FILM);
  recorder.start();
  return () => {
    deaf();
    recorder.stop();
    URL.revokeObjectURL(backdrop.src);
  };
}
