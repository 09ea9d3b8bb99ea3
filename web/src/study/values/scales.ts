import type { Schemas } from "../../api/client";
import { money, round } from "./figures";

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
