/** What a line of pasted text says was observed: the words of a figure, its value, for how long, and from where that is. */
export interface PastedLine {
  words: string;
  value: string;
  per?: "day" | "week" | "month";
  source: string;
}

const PER = /\b(?:a|per|each|every)\s+(day|week|month)\b|\/\s*(day|week|month)\b/i;
const NUMBER = /^[^\d-]*(-?[\d.,\s]*\d)\s*(%|[a-z]*)/i;

/** Reads lines of figures with their values, as a spreadsheet gives them: "Wait at Counter, 9 min, stop watch". */
export function readPasted(text: string): PastedLine[] {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== "");
  return lines.flatMap((line) => {
    const cells = (line.includes("\t") ? line.split("\t") : line.split(";")).map((cell) => cell.trim());
    const place = cells.findIndex((cell, n) => n > 0 && /\d/.test(cell));
    if (place < 0) return [{ words: cells[0] ?? "", value: "", source: "" }];
    const per = PER.exec(cells[place] ?? "") ?? PER.exec(cells[0] ?? "");
    const period = (per?.[1] ?? per?.[2])?.toLowerCase() as PastedLine["per"];
    const words = cells.slice(0, place).join(" ").replace(PER, "").trim();
    return [{ words, value: writtenIn(cells[place] ?? ""), ...(period && { per: period }), source: cells.slice(place + 1).join(", ") }];
  });
}

/** The number of a cell with its unit, without what separates thousands: "5,000 cases" is 5000. */
function writtenIn(cell: string): string {
  const found = NUMBER.exec(cell);
  if (!found?.[1]) return "";
  const number = found[1].replaceAll(/[\s,](?=\d{3}(?:\D|$))/g, "").replace(",", ".");
  const unit = found[2] ?? "";
  if (/^(?:s|sec|min|minutes?|h|hours?|d)$/i.test(unit))
    return `${number} ${unit
      .replace(/^sec$/i, "s")
      .replace(/^minutes?$/i, "min")
      .replace(/^hours?$/i, "h")}`;
  return number;
}
