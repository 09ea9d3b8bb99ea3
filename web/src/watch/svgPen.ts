import type { Pen } from "./drawing";

const SVG = "http://www.w3.org/2000/svg";
const FULL = 2 * Math.PI;
const ANCHORS: Partial<Record<CanvasTextAlign, string>> = { center: "middle", end: "end", right: "end" };
let clips = 0;

/** Draws as a canvas does, but as shapes of a picture, which stay sharp at any size. */
export class SvgPen implements Pen {
  fillStyle: Pen["fillStyle"] = "black";
  strokeStyle: Pen["strokeStyle"] = "black";
  lineWidth = 1;
  font = "";
  textAlign: CanvasTextAlign = "start";
  private path = "";
  private dash: number[] = [];
  private group: SVGElement;
  private readonly outer: SVGElement[] = [];

  constructor(group: SVGElement) {
    this.group = group;
  }

  beginPath(): void {
    this.path = "";
  }

  moveTo(x: number, y: number): void {
    this.path += `M${x},${y}`;
  }

  lineTo(x: number, y: number): void {
    this.path += `L${x},${y}`;
  }

  closePath(): void {
    this.path += "Z";
  }

  rect(x: number, y: number, width: number, height: number): void {
    this.path += `M${x},${y}h${width}v${height}h${-width}Z`;
  }

  /** An arc clockwise, in two halves, since a whole circle has one point for both its ends. */
  arc(x: number, y: number, r: number, from: number, to: number): void {
    const at = (angle: number) => `${x + r * Math.cos(angle)},${y + r * Math.sin(angle)}`;
    const middle = (from + to) / 2;
    this.path += `M${at(from)}A${r},${r} 0 0 1 ${at(middle)}A${r},${r} 0 0 1 ${at(to)}${to - from >= FULL ? "Z" : ""}`;
  }

  fill(): void {
    this.add("path", { d: this.path, fill: String(this.fillStyle) });
  }

  stroke(): void {
    this.add("path", { d: this.path, fill: "none", ...this.line });
  }

  fillRect(x: number, y: number, width: number, height: number): void {
    this.add("rect", { x, y, width, height, fill: String(this.fillStyle) });
  }

  setLineDash(dash: number[]): void {
    this.dash = dash;
  }

  strokeText(words: string, x: number, y: number): void {
    this.write(words, { x, y, fill: "none", ...this.line });
  }

  fillText(words: string, x: number, y: number): void {
    this.write(words, { x, y, fill: String(this.fillStyle) });
  }

  save(): void {
    this.outer.push(this.group);
  }

  restore(): void {
    this.group = this.outer.pop() ?? this.group;
  }

  /** All that follows, up to what was saved before, is seen only within the path. */
  clip(): void {
    const id = `within-${++clips}`;
    this.add("clipPath", { id }).append(shape("path", { d: this.path }));
    this.group = this.add("g", { "clip-path": `url(#${id})` });
  }

  private get line(): Record<string, string | number> {
    return { stroke: String(this.strokeStyle), "stroke-width": this.lineWidth, "stroke-dasharray": this.dash.join(" ") || "none" };
  }

  private write(words: string, more: Record<string, string | number>): void {
    const [, weight = "400", size = "12"] = /^(\d+) ([\d.]+)px/.exec(this.font) ?? [];
    const anchor = ANCHORS[this.textAlign] ?? "start";
    this.add("text", { ...more, "font-weight": weight, "font-size": size, "text-anchor": anchor }).textContent = words;
  }

  private add(name: string, more: Record<string, string | number>): SVGElement {
    const made = shape(name, more);
    this.group.append(made);
    return made;
  }
}

function shape(name: string, more: Record<string, string | number>): SVGElement {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(more)) made.setAttribute(key, String(value));
  return made;
}
