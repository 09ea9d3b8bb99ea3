import type { Figure } from "./figures";
import { halfWidth, round } from "./figures";

interface IntervalProps {
  figure: Figure | undefined;
  factor?: number;
}

/** A mean and half its interval; the digits stand under each other. */
export function Interval({ figure, factor = 1 }: IntervalProps) {
  const half = halfWidth(figure, factor);
  return (
    <span className="whitespace-nowrap">
      <b>{round(figure?.mean == null ? null : figure.mean * factor)}</b>
      {half && <span className="ml-1.5 inline-block w-11 text-left text-sm text-ink-2">{half}</span>}
    </span>
  );
}
