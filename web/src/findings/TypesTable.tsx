import { colourOf } from "../study/document/flow";
import type { StudyDocument } from "../study/document/types";
import { TypeMark } from "../ui/TypeMark";
import { type FigureOf, round } from "./figures";
import { Interval } from "./Interval";

type Quantity = "work" | "wait" | "travel" | "total";

const PARTS: { quantity: Quantity; name: string; fill: string }[] = [
  { quantity: "work", name: "being served", fill: "var(--ink)" },
  { quantity: "wait", name: "waiting", fill: "var(--marker)" },
  { quantity: "travel", name: "walking", fill: "var(--ink-3)" },
];

/** Where the minutes of each case type go. */
export function TypesTable({ study, figure }: { study: StudyDocument; figure: FigureOf }) {
  const minutes = (type: string, quantity: Quantity) => figure(`type/${type}/${quantity}/mean`)?.mean ?? 0;
  const longest = Math.max(...study.case_types.map((type) => minutes(type.id, "total")), 1e-9);
  return (
    <section aria-label="Where the minutes go" className="min-w-0">
      <h2 className="mb-2 text-sm">
        <b>Where the minutes go</b> <span className="text-ink-2">mean per case, min</span>
      </h2>
      <ul className="space-y-3">
        {study.case_types.map((type) => (
          <li key={type.id}>
            <div className="flex items-baseline">
              <TypeMark colour={colourOf(study, type.id)} />
              <b className="mr-auto text-sm">{type.name}</b>
              <Interval figure={figure(`type/${type.id}/total/mean`)} />
            </div>
            <div className="mt-0.5 flex h-6 gap-px" style={{ width: `${(100 * minutes(type.id, "total")) / longest}%` }}>
              {PARTS.map((part) => {
                const share = minutes(type.id, part.quantity) / (minutes(type.id, "total") || 1);
                return (
                  <span
                    key={part.quantity}
                    className="grid place-items-center overflow-hidden text-sm"
                    style={{
                      width: `${100 * share}%`,
                      background: part.fill,
                      color: part.quantity === "wait" ? "#17202b" : "var(--sheet)",
                    }}
                    title={`${part.name} ${round(minutes(type.id, part.quantity))} min`}
                  >
                    {share > 0.12 && round(minutes(type.id, part.quantity))}
                  </span>
                );
              })}
            </div>
          </li>
        ))}
      </ul>
      <p className="mt-2 flex gap-4 text-sm text-ink-2">
        {PARTS.map((part) => (
          <span key={part.quantity}>
            <span aria-hidden className="mr-1.5 inline-block h-2.5 w-4" style={{ background: part.fill }} />
            {part.name}
          </span>
        ))}
      </p>
    </section>
  );
}
