import { fileNameOf, saveFile } from "../ui/files";
import { savePng, saveSvg, standalone } from "../ui/saving";

const SVG = "http://www.w3.org/2000/svg";
const FRAMES = 30;
const FILM = "video/webm";

/** Lines and stops, what moves on them, and what stands above them: the clock in words. */
export interface Scenery {
  ground: SVGSVGElement;
  moving: HTMLCanvasElement;
  words: () => string;
}

/** Saves what is seen as a picture: lines and words as they are, what moves as a picture in it. */
export function saveMoment(scenery: Scenery, kind: "svg" | "png"): Promise<void> {
  const { ground, moving, words } = scenery;
  const { width, height } = ground.getBoundingClientRect();
  const image = document.createElementNS(SVG, "image");
  image.setAttribute("href", moving.toDataURL());
  image.setAttribute("width", String(width));
  image.setAttribute("height", String(height));
  const clock = document.createElementNS(SVG, "text");
  clock.textContent = words();
  for (const [name, value] of Object.entries({ x: 10, y: 26, "font-size": 22, "font-weight": 700, fill: "var(--ink)" }))
    clock.setAttribute(name, String(value));
  ground.append(image, clock);
  const saving = (kind === "svg" ? saveSvg : savePng)(ground, words());
  image.remove();
  clock.remove();
  return saving;
}

/** Whether this browser can make a film of a canvas. */
export const canFilm = () => typeof MediaRecorder !== "undefined" && MediaRecorder.isTypeSupported(FILM);

/** Makes a film of what is seen from now on; returns what ends and saves it. */
export async function film(scenery: Scenery, listen: (listener: () => void) => () => void): Promise<() => void> {
  const { ground, moving, words } = scenery;
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [moving.width, moving.height];
  const pen = canvas.getContext("2d");
  const scale = moving.width / ground.getBoundingClientRect().width;
  const backdrop = new Image();
  backdrop.src = URL.createObjectURL(new Blob([await standalone(ground, words())], { type: "image/svg+xml" }));
  await backdrop.decode();
  const show = () => {
    if (!pen) return;
    pen.drawImage(backdrop, 0, 0, canvas.width, canvas.height);
    pen.drawImage(moving, 0, 0);
    pen.font = `700 ${22 * scale}px "Overpass Variable", sans-serif`;
    pen.fillStyle = "#17202b";
    pen.fillText(words(), 10 * scale, 26 * scale);
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
