import overpass from "@fontsource-variable/overpass/files/overpass-latin-wght-normal.woff2?url";
import Papa from "papaparse";
import { api, ask } from "../api/client";
import { fileNameOf, saveFile } from "./files";

/** Numbers and words as a table: the head has the units. */
export interface Table {
  head: string[];
  rows: (string | number | null)[][];
}

const XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
/** How many pixels of a PNG are one of the picture. */
const SHARPER = 2;
/** What of the look of a shape a picture on its own has to say itself. */
const LOOKS = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-opacity",
  "opacity",
  "font-size",
  "font-weight",
  "text-anchor",
];

/** Saves a picture as SVG with its typeface inside, in the colours of the day on paper. */
export async function saveSvg(svg: SVGSVGElement, title: string): Promise<void> {
  saveFile(await standalone(svg, title), `${fileNameOf(title)}.svg`, "image/svg+xml");
}

/** Saves a picture as PNG, twice as fine as on the screen. */
export async function savePng(svg: SVGSVGElement, title: string): Promise<void> {
  const picture = new Image();
  picture.src = URL.createObjectURL(new Blob([await standalone(svg, title)], { type: "image/svg+xml" }));
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = SHARPER * picture.width;
  canvas.height = SHARPER * picture.height;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  URL.revokeObjectURL(picture.src);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/png"));
  if (!blob) throw new Error("The picture could not be drawn. Save it as SVG instead.");
  saveFile(blob, `${fileNameOf(title)}.png`, "image/png");
}

/** Saves a table as CSV; what a spreadsheet would take for a formula is kept a word. */
export function saveCsv({ head, rows }: Table, title: string): void {
  const text = Papa.unparse({ fields: head, data: rows }, { escapeFormulae: true });
  saveFile(`\uFEFF${text}\r\n`, `${fileNameOf(title)}.csv`, "text/csv");
}

/** Saves a table as a spreadsheet, which the server writes. */
export async function saveXlsx({ head, rows }: Table, title: string): Promise<void> {
  const book: unknown = await ask(api.POST("/api/tables", { body: { title, head, rows }, parseAs: "blob" }));
  saveFile(book as Blob, `${fileNameOf(title)}.xlsx`, XLSX);
}

/** A picture as a text that needs nothing else: colours of the day on paper or another ground, and the typeface inside. */
export async function standalone(svg: SVGSVGElement, title: string, ground?: string): Promise<string> {
  const aside = document.createElement("div");
  aside.dataset.theme = "day";
  aside.style.cssText = "position:absolute;left:-99999px;color:var(--ink)";
  const copy = svg.cloneNode(true) as SVGSVGElement;
  aside.append(copy);
  document.body.append(aside);
  try {
    for (const shape of [copy, ...copy.querySelectorAll<SVGElement>("*")]) sayLook(shape);
    const { width, height } = svg.getBoundingClientRect();
    copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    copy.setAttribute("width", String(width));
    copy.setAttribute("height", String(height));
    copy.setAttribute("font-family", "Overpass, sans-serif");
    const paper = ground ?? getComputedStyle(aside).getPropertyValue("--paper");
    copy.insertAdjacentHTML("afterbegin", `<rect width="100%" height="100%" fill="${paper}"/>`);
    copy.insertAdjacentHTML("afterbegin", `<title></title><style>${await typeface()}</style>`);
    (copy.querySelector("title") as Element).textContent = title;
    return new XMLSerializer().serializeToString(copy);
  } finally {
    aside.remove();
  }
}

/** Writes down the look that a shape has on the screen, so that it keeps it elsewhere. */
function sayLook(shape: SVGElement): void {
  const look = getComputedStyle(shape);
  for (const name of LOOKS) {
    const value = look.getPropertyValue(name);
    if (value) shape.setAttribute(name, asRgb(value));
  }
  for (const name of ["class", "style", "tabindex", "data-figure"]) shape.removeAttribute(name);
}

/** A colour that was mixed as other programs read it: `color(srgb 0.5 0.5 0.5)` is rgb(128,128,128). */
function asRgb(value: string): string {
  const mixed = /^color\(srgb ([\d.e-]+) ([\d.e-]+) ([\d.e-]+)/.exec(value);
  return mixed
    ? `rgb(${mixed
        .slice(1)
        .map((part) => Math.round(255 * Number(part)))
        .join(",")})`
    : value;
}

let read: Promise<string> | undefined;

/** The typeface as a rule that holds it. */
function typeface(): Promise<string> {
  read ??= fetch(overpass)
    .then((answer) => answer.arrayBuffer())
    .then((bytes) => {
      const text = Array.from(new Uint8Array(bytes), (byte) => String.fromCharCode(byte)).join("");
      return `@font-face{font-family:Overpass;font-weight:100 900;src:url(data:font/woff2;base64,${btoa(text)}) format("woff2")}`;
    });
  return read;
}
