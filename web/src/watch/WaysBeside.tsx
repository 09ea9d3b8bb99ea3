import { spanWords } from "../study/values/spans";
import { useWidth } from "../ui/useWidth";
import type { Stretch, Way } from "./useFollowed";
import { comingOf, endOf, isSameCase, isWait, waitedOf } from "./ways";

interface WaysBesideProps {
  names: [string, string];
  ways: [Way, Way];
  moment: number;
}

const ROW = 40;
const BAR = 12;
const TOP = 20;
/** So many letters of a name stand beside its times; it stands in full below. */
const MOST_LETTERS = 17;

/** A case's way in two scenarios, one under the other on one scale of time. */
export function WaysBeside({ names, ways, moment }: WaysBesideProps) {
  const [holder, width] = useWidth<HTMLDivElement>(290);
  const from = Math.min(...ways.map(comingOf));
  const to = Math.max(...ways.map(endOf), from + 1);
  const x = (at: number) => (width * (at - from)) / (to - from);
  const told = (n: 0 | 1, named = (name: string) => name) =>
    `${named(names[n])}: waited ${spanWords(waitedOf(ways[n], to))}, ${spanWords(endOf(ways[n]) - comingOf(ways[n]))} in all`;
  const height = 2 * ROW;
  return (
    <div ref={holder} className="mb-2">
      <svg width={width} height={height} role="img" aria-label={`${told(0)}; ${told(1)}`}>
        {ways.map((way, n) => (
          <g key={names[n]} transform={`translate(0 ${n * ROW})`}>
            <text y={13} fontSize={12} fill="var(--ink-2)">
              {told(n as 0 | 1, shortened)}
            </text>
            {way.stretches
              .filter(({ lane }) => lane === 0)
              .map((each) => (
                <rect
                  key={each.at}
                  x={x(each.at)}
                  y={TOP}
                  width={Math.max(1, x(each.until) - x(each.at))}
                  height={BAR}
                  fill={fillOf(each)}
                  opacity={each.at > moment ? 0.35 : 1}
                />
              ))}
          </g>
        ))}
        {moment >= from && moment <= to && <path d={`M${x(moment)},${TOP - 3}V${height - 5}`} stroke="var(--ink)" strokeWidth={2} />}
      </svg>
      {!isSameCase(...ways) && (
        <p className="text-sm text-wrong">Not the same one: who comes differs between the two, and their numbers with it.</p>
      )}
    </div>
  );
}

const shortened = (name: string) => (name.length > MOST_LETTERS ? `${name.slice(0, MOST_LETTERS - 1).trimEnd()}…` : name);

const fillOf = (stretch: Stretch) => (isWait(stretch) ? "var(--marker)" : stretch.doing === "work" ? "var(--ink)" : "var(--ink-3)");
