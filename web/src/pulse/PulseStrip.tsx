import { Activity, ArrowDown, ArrowUp } from "lucide-react";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import { useCatalogue } from "../api/queries";
import { select, useStudy } from "../study/session/store";
import { HealthList } from "./HealthList";
import { usePulse } from "./usePulse";
import { meansOf, sideBySide } from "./weeks";

/** The strip along the bottom: what the last edit did to load, wait, cases inside and cost, and what is wrong or doubtful. */
export function PulseStrip() {
  const pulse = usePulse();
  const problems = useStudy((state) => state.problems);
  const broken = problems.some((problem) => problem.level === "error");
  const now = meansOf(pulse.weeks);
  const compared = sideBySide(pulse.weeks, pulse.before);
  const reason = pulse.reasons[0] ?? (now ? undefined : pulse.theory?.reasons?.[0]);
  const figure = (key: "wait" | "wait_p90" | "inside" | "cost") => ({
    value: now ? now[key] : key === "wait" || key === "cost" ? (pulse.theory?.[key] ?? null) : null,
    change: compared && difference(compared.now[key], compared.before[key]),
  });
  return (
    <section
      aria-label="Pulse"
      aria-busy={pulse.beating}
      className="flex h-19 shrink-0 items-stretch print:hidden border-t-2 border-ink bg-sheet"
    >
      <Source weeks={broken ? null : pulse.weeks.length} beating={pulse.beating} />
      {broken || !(now || pulse.theory) ? (
        <p className="self-center px-3 text-sm text-ink-2">
          {broken ? "The study cannot be simulated until its errors are mended." : "Taking the pulse …"}
        </p>
      ) : (
        <>
          <Loads />
          <Figure name="Wait, mean" {...figure("wait")} unit="min" digits={1} />
          <Figure name="9 in 10 under" {...figure("wait_p90")} unit="min" digits={1} />
          <Figure name="Inside, mean" {...figure("inside")} unit="cases" digits={1} />
          <Cost {...figure("cost")} />
        </>
      )}
      <div className="ml-auto flex min-w-40 max-w-80 flex-1 flex-col justify-center border-l border-rule px-4">
        {!broken && reason && problems.length + pulse.doubts.length === 0 ? (
          <p className="line-clamp-3 text-sm text-ink-2">{reason}</p>
        ) : (
          <HealthList />
        )}
      </div>
    </section>
  );
}

const difference = (now: number | null, before: number | null) => (now === null || before === null ? null : now - before);

const HOW_IT_IS_FOUND = [
  "What the last edit leads to: theory at once, then simulated weeks, more of them while nothing is typed.",
  "A change is taken over the weeks that were simulated before and after it, with the same luck.",
  "In a scenario, changes are from the study as it is today.",
].join(" ");

/** Where the figures come from: formulas alone, or so many simulated weeks; nothing where there are none. */
function Source({ weeks, beating }: { weeks: number | null; beating: boolean }) {
  const words = weeks === 0 ? "theory" : weeks === 1 ? "1 week" : weeks && `${weeks} weeks`;
  return (
    <span className="flex w-16 shrink-0 flex-col items-center justify-center text-xs text-ink-2" title={HOW_IT_IS_FOUND}>
      <Activity size={22} aria-hidden className={`text-ink ${beating ? "animate-pulse" : ""}`} />
      {words}
    </span>
  );
}

interface Load {
  id: string;
  name: string;
  load: number;
  was: number | null;
}

/** How much of each team's time its work takes, the most loaded first: from theory, from the simulation where theory cannot say. */
function useLoads(): Load[] {
  const { theory, loadsBefore, weeks, before } = usePulse();
  const teams = useStudy((state) => state.document.teams);
  const simulated = meansOf(weeks);
  const compared = sideBySide(weeks, before);
  const loads = teams.flatMap(({ id, name }): Load[] => {
    const told = theory?.loads?.[id] ?? null;
    if (told !== null) return [{ id, name, load: told, was: loadsBefore?.[id] ?? null }];
    const load = simulated?.loads[id] ?? null;
    const change = compared && difference(compared.now.loads[id] ?? null, compared.before.loads[id] ?? null);
    return load === null ? [] : [{ id, name, load, was: change === null ? null : load - change }];
  });
  return loads.toSorted((one, other) => other.load - one.load);
}

const SHOWN = 4;
const SHOWN_WHERE_NARROW = 3;

/** People, places and equipment alike, by their load; those for whom there is no room are a click away. */
function Loads() {
  const loads = useLoads();
  return (
    <div className="flex min-w-0 items-center gap-4 px-3 text-sm">
      <ul aria-label="Load on each team" className="flex min-w-0 items-center gap-5">
        {loads.slice(0, SHOWN).map((load) => (
          <li key={load.id} className="w-24 min-w-0 max-[1100px]:nth-[n+4]:hidden">
            <LoadMark {...load} />
          </li>
        ))}
      </ul>
      {loads.length > SHOWN_WHERE_NARROW && (
        <Popover.Root>
          <Popover.Trigger className={`whitespace-nowrap text-ink-2 underline ${loads.length > SHOWN ? "" : "min-[1100px]:hidden"}`}>
            all {loads.length}
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              side="top"
              sideOffset={12}
              aria-label="Load on all teams"
              className="z-50 max-h-[60vh] w-64 overflow-auto rounded-md border border-rule bg-sheet px-4 py-2 text-sm shadow-xl"
            >
              <ul>
                {loads.map((load) => (
                  <li key={load.id} className="py-1.5">
                    <LoadMark {...load} />
                  </li>
                ))}
              </ul>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      )}
    </div>
  );
}

/** A team's load as a bar and a number, with what the last edit did to it; it leads to the team. */
function LoadMark({ id: team, name, load, was }: Load) {
  const id = useStudy((state) => state.id);
  const navigate = useNavigate();
  const isFull = load >= (useCatalogue()?.thresholds.full ?? Number.POSITIVE_INFINITY);
  const whole = Math.round(100 * load);
  return (
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
        <span className={`block h-full ${isFull ? "bg-wrong" : "bg-ink"}`} style={{ width: `${Math.min(100, 100 * load)}%` }} />
      </span>
      <b className={isFull ? "text-wrong" : ""}>{whole} %</b> {was !== null && <Points change={whole - Math.round(100 * was)} />}
    </button>
  );
}

function Points({ change }: { change: number }) {
  return <span className="text-ink-2">{change > 0 ? `+${change}` : change < 0 ? `−${-change}` : "+0"}</span>;
}

interface FigureProps {
  name: string;
  value: number | null;
  /** What the last edit did to it; null before the first. */
  change: number | null;
  unit: string;
  digits: number;
}

function Figure({ name, value, change, unit, digits }: FigureProps) {
  const text = (number: number) => (Math.abs(number) >= 100 ? Math.round(number).toLocaleString("en") : number.toFixed(digits));
  return (
    <Cell name={name}>
      {value === null ? (
        <span className="text-sm text-ink-2">cannot be said</span>
      ) : (
        <>
          <b className="text-xl leading-6">{text(value)}</b> <span className="text-sm text-ink-2">{unit}</span>
          <Change change={change} text={text} />
        </>
      )}
    </Cell>
  );
}

function Cost({ value, change }: Pick<FigureProps, "value" | "change">) {
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  return <Figure name="Cost a day" value={value} change={change} unit={currency} digits={0} />;
}

function Cell({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex w-28 shrink-0 flex-col justify-center border-l border-rule px-3.5 max-[1100px]:w-26 max-[1100px]:px-2">
      <span className="text-sm text-ink-2">{name}</span>
      <div className="whitespace-nowrap">{children}</div>
    </div>
  );
}

/** What the last edit changed, or a scenario against today; nothing before the first. */
function Change({ change, text }: { change: number | null; text: (number: number) => string }) {
  const isTried = useStudy((state) => state.scenario !== null);
  if (change === null) return <span className="block h-4" />;
  if (text(Math.abs(change)) === text(0)) return <span className="block text-xs text-ink-2">{isTried ? "as today" : "as before"}</span>;
  const Arrow = change > 0 ? ArrowUp : ArrowDown;
  return (
    <span className="flex items-center gap-0.5 text-xs">
      <Arrow size={12} aria-hidden className="shrink-0" />
      {text(Math.abs(change))} <span className="text-ink-2">{change > 0 ? "more" : "less"}</span>
    </span>
  );
}
