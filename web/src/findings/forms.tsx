/** How the parts of a bar are told apart: by form first, then by colour. */
const FORMS: Record<string, { ground: string; lines?: string; turned?: number; dots?: boolean }> = {
  work: { ground: "var(--ink)" },
  busy: { ground: "var(--marker-soft)" },
  break: { ground: "var(--marker-light)", lines: "M0 3H6", turned: -45 },
  absent: { ground: "var(--marker-light)", lines: "M0 3H6M3 0V6", turned: 45 },
  "off-shift": { ground: "var(--sheet)", lines: "M0 3H6" },
  interrupted: { ground: "var(--marker-light)", dots: true },
  place: { ground: "var(--sheet)", lines: "M3 0V6" },
  closed: { ground: "var(--sheet)", lines: "M0 3H6M3 0V6" },
  "next-line": { ground: "var(--value)", lines: "M0 3H6", turned: 45 },
  signal: { ground: "var(--value)", dots: true },
  batch: { ground: "var(--sheet)", dots: true },
  branches: { ground: "var(--value)", lines: "M0 1L3 5L6 1" },
  minimum: { ground: "var(--value)" },
  person: { ground: "var(--sheet)", lines: "M0 3H6", turned: 45 },
  travel: { ground: "var(--ink-2)" },
};

/** Parts whose words are in the colour of the paper. */
const DARK = ["work", "travel"];

export const isDark = (part: string) => DARK.includes(part);

/** What fills a part; `scope` keeps the patterns of several pictures apart. */
export const formOf = (part: string, scope: string) =>
  FORMS[part]?.lines || FORMS[part]?.dots ? `url(#${scope}-${part})` : (FORMS[part]?.ground ?? "var(--value)");

/** The patterns of the parts that are drawn. */
export function Forms({ parts, scope }: { parts: string[]; scope: string }) {
  return (
    <defs>
      {parts.map((part) => {
        const form = FORMS[part];
        if (!form?.lines && !form?.dots) return null;
        return (
          <pattern
            key={part}
            id={`${scope}-${part}`}
            width={6}
            height={6}
            patternUnits="userSpaceOnUse"
            patternTransform={form.turned ? `rotate(${form.turned})` : undefined}
          >
            <rect width={6} height={6} fill={form.ground} />
            {form.lines && <path d={form.lines} stroke="var(--ink)" strokeWidth={1.2} fill="none" />}
            {form.dots && <circle cx={3} cy={3} r={1.2} fill="var(--ink)" />}
          </pattern>
        );
      })}
    </defs>
  );
}
