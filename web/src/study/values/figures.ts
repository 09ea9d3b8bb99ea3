import type { Schemas } from "../../api/client";
import type { FigureAddress } from "../../api/figures";

export type Estimate = Schemas["Estimate"];
export type FigureOf = (address: FigureAddress) => Estimate | undefined;

/** Writes a number with the digits that a reader can use. */
export function round(value: number | null | undefined): string {
  if (value == null) return "–";
  const size = Math.abs(value);
  const digits = size >= 100 ? 0 : size >= 10 ? 1 : size >= 0.95 ? 1 : 2;
  return value.toLocaleString("en", { minimumFractionDigits: digits, maximumFractionDigits: digits });
}

/** Writes an amount of money: whole from a hundred on, to the cent below. */
export function money(value: number | null | undefined): string {
  if (value == null) return "–";
  const digits = Math.abs(value) >= 100 || value === 0 ? 0 : 2;
  return value.toLocaleString("en", { minimumFractionDigits: digits, maximumFractionDigits: digits });
}

export function percent(value: number | null | undefined): string {
  return value == null ? "–" : `${Math.round(value * 100)} %`;
}

const MOST_DIGITS = 2;

/** A mean and half its interval with the digits that the interval leaves meaning to. */
export function withInterval(figure: Estimate | undefined, factor = 1, write = round): { mean: string; half: string } {
  if (figure?.mean == null) return { mean: "–", half: "" };
  const mean = figure.mean * factor;
  if (figure.half_width == null) return { mean: write(mean), half: "" };
  const half = figure.half_width * factor;
  if (half === 0) return { mean: write(mean), half: "" };
  const digits = Math.min(MOST_DIGITS, Math.max(0, -Math.floor(Math.log10(half))));
  const fixed = (value: number) => value.toLocaleString("en", { minimumFractionDigits: digits, maximumFractionDigits: digits });
  const least = 10 ** -digits;
  return { mean: fixed(mean), half: half < least / 2 ? `± <\u2009${fixed(least)}` : `± ${fixed(half)}` };
}
