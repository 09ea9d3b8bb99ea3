import { Activity, ArrowDown, ArrowUp } from "lucide-react";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import { useCatalogue } from "../api/queries";
import { select, useStudy } from "../study/session/store";
import { HealthList } from "./HealthList";
import { type Pulse, usePulse } from "./usePulse";

const TEAMS = 4;

/** The strip along the bottom: what the last edit did to load, wait, cases inside and cost, and what is wrong or doubtful. */
export function PulseStrip() {
  const { theory, simulated, before, beating } = usePulse();
  const problems = useStudy((state) => state.problems);
  const broken = problems.some((problem) => problem.level === "error");
  const figures: Pulse | null = simulated ?? theory;
  const reason = simulated?.reasons?.[0] ?? (simulated ? undefined : theory?.reasons?.[0]);
  return (
    <section aria-label="Pulse" aria-busy={beating} className="flex h-19 shrink-0 items-stretch border-t-2 border-ink bg-sheet">
      <span
        className="grid w-14 shrink-0 place-items-center"
        title="What the last edit leads to: theory at once, then a quick simulation of some weeks"
      >
        <Activity size={24} aria-hidden className={beating ? "animate-pulse" : ""} />
      </span>
      {broken || !figures ? (
        <p className="self-center px-3 text-sm text-ink-2">
          {broken ? "The study cannot be simulated until its errors are mended." : "Taking the pulse …"}
        </p>
      ) : (
        <>
          <Loads />
          <Figure name="Wait, mean" value={figures.wait} before={before?.wait} unit="min" digits={1} />
          <Figure name="9 in 10 under" value={figures.wait_p90} before={before?.wait_p90} unit="min" digits={1} />
          <Figure name="Inside, mean" value={figures.inside} before={before?.inside} unit="cases" digits={1} />
          <Cost value={figures.cost} before={before?.cost} />
        </>
      )}
      <div className="ml-auto flex min-w-40 max-w-80 flex-1 flex-col justify-center border-l border-rule px-4">
        {!broken && reason && problems.length === 0 ? <p className="line-clamp-3 text-sm text-ink-2">{reason}</p> : <HealthList />}
      </div>
    </section>
  );
}

/** How much of each team's time its work takes: from theory, from the simulation where theory cannot say. */
function Loads() {
  const { theory, simulated, loadsBefore, before } = usePulse();
  const id = useStudy((state) => state.id);
  const teams = useStudy((state) => state.document.teams);
  const navigate = useNavigate();
  const full = useCatalogue()?.thresholds.full ?? Number.POSITIVE_INFINITY;
  const loads = teams.map((team) => {
    const told = theory?.loads?.[team.id] ?? null;
    const load = told ?? simulated?.loads?.[team.id] ?? null;
    const was = (told === null ? before?.loads?.[team.id] : loadsBefore?.[team.id]) ?? null;
    return { ...team, load, was };
  });
  const shown = loads
    .filter((team) => team.load !== null)
    .toSorted((one, other) => (other.load ?? 0) - (one.load ?? 0))
    .slice(0, TEAMS);
  const order = new Map(teams.map((team, n) => [team.id, n]));
  return (
    <ul aria-label="Load on each team" className="flex min-w-0 items-center gap-5 px-3 text-sm">
      {shown
        .toSorted((one, other) => (order.get(one.id) ?? 0) - (order.get(other.id) ?? 0))
        .map(({ id: team, name, load, was }) => (
          <li key={team} className="w-24 min-w-0 max-[1100px]:nth-[n+4]:hidden">
            <button
              type="button"
              className="w-full text-left hover:underline"
              onClick={() => {
                void navigate(`/studies/${id}/flow`);
                select({ kind: "team", id: team });
              }}
            >
              <span className="block truncate text-ink-2">{name}</span>
              <span aria-hidden className="my-1 block h-2 bg-value">
                <span
                  className={`block h-full ${(load ?? 0) >= full ? "bg-wrong" : "bg-ink"}`}
                  style={{ width: `${Math.min(100, 100 * (load ?? 0))}%` }}
                />
              </span>
              <b className={(load ?? 0) >= full ? "text-wrong" : ""}>{Math.round(100 * (load ?? 0))} %</b>{" "}
              {was !== null && <Points change={Math.round(100 * (load ?? 0)) - Math.round(100 * was)} />}
            </button>
          </li>
        ))}
    </ul>
  );
}

function Points({ change }: { change: number }) {
  return <span className="text-ink-2">{change > 0 ? `+${change}` : change < 0 ? `−${-change}` : "+0"}</span>;
}

interface FigureProps {
  name: string;
  value: number | null | undefined;
  before: number | null | undefined;
  unit: string;
  digits: number;
}

function Figure({ name, value, before, unit, digits }: FigureProps) {
  const text = (number: number) => (Math.abs(number) >= 100 ? Math.round(number).toLocaleString("en") : number.toFixed(digits));
  return (
    <Cell name={name}>
      {typeof value === "number" ? (
        <>
          <b className="text-xl leading-6">{text(value)}</b> <span className="text-sm text-ink-2">{unit}</span>
          <Change value={value} before={before} text={text} />
        </>
      ) : (
        <span className="text-sm text-ink-2">cannot be said</span>
      )}
    </Cell>
  );
}

function Cost({ value, before }: { value: number | null | undefined; before: number | null | undefined }) {
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  return <Figure name="Cost a day" value={value} before={before} unit={currency} digits={0} />;
}

function Cell({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex w-28 shrink-0 flex-col justify-center border-l border-rule px-3.5 max-[1100px]:w-26 max-[1100px]:px-2">
      <span className="text-sm text-ink-2">{name}</span>
      <div className="whitespace-nowrap">{children}</div>
    </div>
  );
}

/** What the last edit changed; nothing before the first. */
function Change({ value, before, text }: { value: number; before: number | null | undefined; text: (number: number) => string }) {
  if (typeof before !== "number") return <span className="block h-4" />;
  const change = value - before;
  if (text(Math.abs(change)) === text(0)) return <span className="block text-xs text-ink-2">as before</span>;
  const Arrow = change > 0 ? ArrowUp : ArrowDown;
  return (
    <span className="flex items-center gap-0.5 text-xs">
      <Arrow size={12} aria-hidden className="shrink-0" />
      {text(Math.abs(change))} <span className="text-ink-2">{change > 0 ? "more" : "less"}</span>
    </span>
  );
}
