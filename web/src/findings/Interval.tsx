import { type Estimate, round, withInterval } from "../study/values/figures";

/** A mean and half its interval, whose ends are told where it is pointed at; the digits stand under each other. */
export function Interval({ figure, factor = 1 }: { figure: Estimate | undefined; factor?: number }) {
  const { mean, half } = withInterval(figure, factor);
  const ends =
    half && figure?.low != null && figure.high != null
      ? `between ${round(figure.low * factor)} and ${round(figure.high * factor)}`
      : undefined;
  return (
    <span className="whitespace-nowrap" title={ends}>
      <b>{mean}</b>
      {half && <span className="ml-1.5 inline-block w-12 text-left text-sm text-ink-2">{half}</span>}
    </span>
  );
}
