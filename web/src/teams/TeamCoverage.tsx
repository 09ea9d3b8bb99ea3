import { useMemo } from "react";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { DAYS } from "../study/values/days";
import { COLUMNS } from "./Board";
import { CoverageChart, TimeAxis } from "./CoverageChart";
import { coverageOf, type Span } from "./coverage";
import { useLoad } from "./useLoad";
import type { View } from "./views";

const DAY_NAMES = DAYS.map((day) => day.name);

interface TeamCoverageProps {
  study: StudyDocument;
  shown: StudyDocument;
  team: string;
  view: View;
  span: Span;
}

/** Who of a team, and of those who share its work, is there beside what the work needs. */
export function TeamCoverage({ study, shown, team, view, span }: TeamCoverageProps) {
  const load = useLoad(study);
  const others = load.data?.teams[team]?.shared_with ?? [];
  const needed = useMemo(
    () => load.data && Object.fromEntries(Object.entries(load.data.teams).map(([id, each]) => [id, each.needed])),
    [load.data],
  );
  const coverage = useMemo(() => coverageOf(shown, [team, ...others], needed, span), [shown, team, others, needed, span]);
  const names = [team, ...others].map((id) => nameOf(study, "team", id)).join(" and ");
  return (
    <div className={COLUMNS}>
      <span />
      <TimeAxis span={span} names={view === "week" ? DAY_NAMES : undefined} />
      <span className="text-right text-sm text-ink-2">{study.currency ?? "EUR"} a week</span>
      <div className="self-start pt-2 pr-5 text-sm">
        <p className="text-base font-bold">{names}</p>
        <Key look="line">people there</Key>
        <Key look="area">people needed</Key>
        <Key look="short">too few</Key>
      </div>
      <div className="pt-6" aria-busy={load.isFetching}>
        <CoverageChart label={`${names}: people there beside people needed`} coverage={coverage} span={span} />
        {load.isError && <p className="text-sm text-ink-2">What the work needs cannot be said: {load.error.message}</p>}
      </div>
    </div>
  );
}

function Key({ look, children }: { look: "line" | "area" | "short"; children: string }) {
  return (
    <p className={`flex items-center justify-between ${look === "short" ? "text-wrong" : "text-ink-2"}`}>
      {children}
      <svg width={26} height={12} aria-hidden>
        {look === "line" ? (
          <path d="M0,6H26" stroke="var(--ink)" strokeWidth={2.5} />
        ) : (
          <rect width={26} height={12} fill={look === "area" ? "var(--marker-soft)" : "var(--wrong)"} />
        )}
      </svg>
    </p>
  );
}
