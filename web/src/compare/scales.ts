import type { Schemas } from "../api/client";
import { money, round } from "../findings/figures";

type Title = Schemas["Title"];

/** How a figure is shown: by how much it is multiplied, and how it is written. */
export interface Scale {
  factor: number;
  write: (value: number | null | undefined) => string;
}

const SCALES: Partial<Record<Title["unit"], Scale>> = {
  share: { factor: 100, write: round },
  money: { factor: 1, write: money },
};

export const scaleOf = ({ unit }: Title): Scale => SCALES[unit] ?? { factor: 1, write: round };

/** The limit that a target sets, in the figure's unit. */
export function limitWords({ at_most, at_least }: Schemas["Limit"], title: Title): string {
  const { factor, write } = scaleOf(title);
  const short = (value: number) => write(value * factor).replace(/\.0+$/, "");
  const ends = [at_least === null ? null : `at least ${short(at_least)}`, at_most === null ? null : `at most ${short(at_most)}`];
  return `target: ${ends.filter(Boolean).join(", ")}`;
}
