import { type Estimate, withInterval } from "./figures";

/** A mean and half its interval; the digits stand under each other. */
export function Interval({ figure }: { figure: Estimate | undefined }) {
  const { mean, half } = withInterval(figure);
  return (
    <span className="whitespace-nowrap">
      <b>{mean}</b>
      {half && <span className="ml-1.5 inline-block w-12 text-left text-sm text-ink-2">{half}</span>}
    </span>
  );
}
