import type { Schemas } from "../api/client";
import { withInterval } from "../findings/figures";
import { scaleOf } from "./scales";

type Difference = Schemas["Difference"];
type Written = ReturnType<typeof withInterval>;

const LOOK: Record<Difference["verdict"], string> = {
  better: "text-better font-bold",
  worse: "text-wrong font-bold",
  higher: "font-bold",
  lower: "font-bold",
  same: "text-ink-2",
  "no clear difference": "text-ink-2",
};

/** One measure in both runs: the first, the second, and the paired difference with its verdict. */
export function MeasureRow({ title, difference }: { title: Schemas["Title"]; difference: Difference }) {
  const { first, other, difference: change, verdict } = difference;
  const { factor, write } = scaleOf(title);
  const [before, after] = [first, other].map((each) => withInterval(each, factor, write)) as [Written, Written];
  const size = withInterval({ ...change, mean: Math.abs(change.mean ?? 0) }, factor, write);
  const sign = (change.mean ?? 0) > 0 ? "▲" : (change.mean ?? 0) < 0 ? "▼" : "";
  return (
    <tr className="border-b border-rule">
      <th scope="row" className="py-1 pr-3 text-left leading-5 font-normal">
        <b>{title.name}</b> <span className="whitespace-nowrap text-sm text-ink-2">{title.of}</span>
      </th>
      <td className="whitespace-nowrap">
        <b>{before.mean}</b> <span className="text-sm text-ink-2">{before.half}</span>
      </td>
      <td>
        <div className="flex items-center gap-4">
          <span className="w-16 whitespace-nowrap">
            <b>{after.mean}</b>
          </span>
          <span className="w-52 whitespace-nowrap">
            <span aria-hidden className="mr-1 inline-block w-3 text-xs">
              {sign}
            </span>
            <span className="sr-only">{sign === "▲" ? "up by" : sign === "▼" ? "down by" : ""}</span>
            <b>{size.mean}</b>{" "}
            <span className="text-sm text-ink-2">{change.sd === 0 ? (verdict === "same" ? "" : "exactly") : size.half}</span>{" "}
            <span className={`text-sm ${LOOK[verdict]}`}>{verdict}</span>
          </span>
          <IntervalMark change={change} verdict={verdict} />
        </div>
      </td>
    </tr>
  );
}

const WIDTH = 90;

/** The interval of a difference against zero, each row on its own scale. */
function IntervalMark({ change, verdict }: { change: Schemas["Estimate"]; verdict: Difference["verdict"] }) {
  if (change.mean === null || change.low === null || change.high === null) return null;
  const reach = Math.max(Math.abs(change.low), Math.abs(change.high), 1e-12) * 1.15;
  const x = (value: number) => WIDTH / 2 + (value / reach) * (WIDTH / 2 - 8);
  const colour = verdict === "better" ? "var(--better)" : verdict === "worse" ? "var(--wrong)" : "var(--ink-2)";
  return (
    <svg width={WIDTH} height={20} aria-hidden className="shrink-0 max-[1180px]:hidden">
      <path d={`M${WIDTH / 2} 2V18`} stroke="var(--ink-3)" strokeWidth={1.5} />
      <path d={`M${x(change.low)} 10H${x(change.high)}`} stroke={colour} strokeWidth={5} />
      <circle cx={x(change.mean)} cy={10} r={4.5} fill="var(--paper)" stroke={colour} strokeWidth={2.5} />
    </svg>
  );
}
