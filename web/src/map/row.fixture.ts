import { filledIn, type StudyDocument } from "../study/document/types";

/** A row of steps for tests; every fifth leads back by four. */
export function row(count: number): StudyDocument {
  return filledIn({
    name: "Row",
    case_types: [{ id: "a", name: "A" }],
    streams: [{ id: "in", name: "In", kind: "random", gap: "1 min", to: "s0" }],
    steps: [
      ...Array.from({ length: count }, (_, n) => ({
        id: `s${n}`,
        name: `S${n}`,
        kind: "serve" as const,
        work: "1 min",
        next: [
          { to: n + 1 < count ? `s${n + 1}` : "out", share: 0.9 },
          { to: n % 5 === 4 ? `s${n - 3}` : "out", share: 0.1 },
        ],
      })),
      { id: "out", name: "Out", kind: "exit" as const },
    ],
  });
}
