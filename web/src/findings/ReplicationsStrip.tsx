import type { Schemas } from "../api/client";
import { scaleOf } from "../study/values/scales";
import { useWidth } from "../ui/useWidth";
import { type Shown, useReplications } from "./shown";

interface ReplicationsStripProps {
  shown: Shown;
  address: string;
  title: Schemas["Title"];
  figure: Schemas["Estimate"];
}

const HEIGHT = 58;
const [LINE, SIDE] = [24, 14];

/** The replications of a figure one by one, as points over the interval of their mean. */
export function ReplicationsStrip({ shown, address, title, figure }: ReplicationsStripProps) {
  const [holder, width] = useWidth<HTMLDivElement>(800);
  const values = useReplications(shown, address)?.[address.replace(/:each$/, "")]?.filter((value): value is number => value !== null);
  if (!values) return null;
  const { factor, write } = scaleOf(title);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const x = (value: number) => SIDE + ((width - 2 * SIDE) * (value - least)) / (most - least || 1);
  const told = `${values.length} replications between ${write(least * factor)} and ${write(most * factor)}`;
  return (
    <div ref={holder}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`${title.name}: ${told}`}>
        {figure.low !== null && figure.high !== null && (
          <rect
            x={x(figure.low)}
            width={Math.max(2, x(figure.high) - x(figure.low))}
            y={LINE - 12}
            height={24}
            fill="var(--marker-soft)"
            opacity={0.7}
          />
        )}
        <line x1={SIDE} x2={width - SIDE} y1={LINE} y2={LINE} stroke="var(--rule)" />
        {values.map((value, n) => (
          <circle key={n} cx={x(value)} cy={LINE + 6 * Math.sin(7.3 * n)} r={3} fill="none" stroke="var(--ink)" strokeWidth={1.2}>
            <title>{`replication ${n + 1}: ${write(value * factor)}`}</title>
          </circle>
        ))}
        <text x={SIDE} y={HEIGHT - 4} fontSize={12} fill="var(--ink-2)">
          {write(least * factor)}
        </text>
        <text x={width - SIDE} y={HEIGHT - 4} fontSize={12} textAnchor="end" fill="var(--ink-2)">
          {write(most * factor)}
        </text>
      </svg>
    </div>
  );
}
