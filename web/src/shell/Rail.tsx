import { NavLink, useLocation } from "react-router";

export const STAGES = [
  { path: "data", name: "Data" },
  { path: "flow", name: "Flow" },
  { path: "demand", name: "Demand" },
  { path: "teams", name: "Teams" },
  { path: "scenarios", name: "Scenarios" },
  { path: "run", name: "Run" },
  { path: "findings", name: "Findings" },
  { path: "compare", name: "Compare" },
  { path: "right-size", name: "Right-size" },
];

/** The work in its order, as a line: travelled so far solid, ahead dotted. */
export function Rail() {
  const location = useLocation();
  const here = STAGES.findIndex(({ path }) => path === stageOf(location));
  return (
    <nav aria-label="Stages of the work" className="w-21 shrink-0 print:hidden border-r border-rule pt-4">
      <ol>
        {STAGES.map((stage, n) => (
          <li key={stage.path} className="relative h-17">
            {n < STAGES.length - 1 && (
              <span
                aria-hidden
                className={`absolute left-1/2 top-6 h-15 -translate-x-1/2
                  ${n < here ? "w-1 bg-ink" : "w-0 border-l-[3px] border-dotted border-ink"}`}
              />
            )}
            <NavLink to={stage.path} className="relative flex flex-col items-center gap-0.5">
              <span className={`grid size-8.5 place-items-center rounded-full ${n === here ? "bg-marker" : ""}`}>
                <span className="size-5.5 rounded-full border-[3.5px] border-[#17202b] bg-sheet night:border-ink" />
              </span>
              <span className={`bg-paper px-1 text-sm ${n === here ? "font-bold" : "text-ink-2"}`}>{stage.name}</span>
            </NavLink>
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** The stage to which a page belongs: a replay of a run to its findings, one of the study as it is to its flow. */
function stageOf({ pathname, search }: { pathname: string; search: string }): string | undefined {
  if (pathname.endsWith("/watch")) return search.includes("run=") ? "findings" : "flow";
  return STAGES.find(({ path }) => pathname.includes(`/${path}`))?.path;
}
