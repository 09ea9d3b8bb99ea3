import { useMemo, useState } from "react";
import { WeekChart, type WeekSeries } from "../charts/WeekChart";
import { nameOf } from "../study/document/parts";
import type { Stream, StudyDocument } from "../study/document/types";
import { Choice } from "../ui/Choice";
import { useWidth } from "../ui/useWidth";
import { type DemandWeek, useDemandWeek } from "./useDemandWeek";

const HEIGHT = 118;
/** What both pictures take with their words: kept free until they come, so that nothing below moves under the pointer. */
const WHOLE_HEIGHT = 286;

/** What is expected hour by hour with one simulated week over it, and the work it makes beside who is there. */
export function WeekPictures({ study, stream }: { study: StudyDocument; stream: Stream }) {
  const week = useDemandWeek(study);
  const [holder, width] = useWidth<HTMLDivElement>(800);
  const busiest = week.data ? busiestTeam(week.data) : undefined;
  const [chosen, setChosen] = useState<string | null>(null);
  const team = study.teams.find((each) => each.id === chosen) ?? study.teams.find((each) => each.id === busiest) ?? study.teams[0];
  const arrivals = useMemo(() => (week.data ? arrivalSeries(week.data, stream.id) : null), [week.data, stream.id]);
  const staff = useMemo(() => (week.data && team ? staffSeries(week.data, team.id) : null), [week.data, team]);
  const others = (team && week.data?.teams[team.id]?.shared_with) || [];
  const total = week.data?.streams[stream.id]?.expected.reduce((sum, count) => sum + count, 0);
  return (
    <div ref={holder} className="pb-2 pt-2" aria-busy={week.isFetching}>
      {week.isPending && <div style={{ height: WHOLE_HEIGHT }} />}
      {week.isError && <p className="py-2 text-ink-2">The week cannot be drawn yet: {week.error.message}</p>}
      {arrivals && (
        <>
          <p className="flex flex-wrap items-baseline gap-x-4 text-sm text-ink-2">
            <b className="text-ink">The week as it will arrive</b>
            <Key look="area">
              {stream.name} as expected{total === undefined ? "" : `, ${round(total)} a week`}
            </Key>
            {week.data?.streams[stream.id]?.simulated ? (
              <Key look="marks">one simulated week</Key>
            ) : (
              <span>a week takes too long to simulate in passing</span>
            )}
            {study.streams.length > 1 && <Key look="ground">all streams</Key>}
          </p>
          <WeekChart
            label={`Arrivals of ${stream.name} by hour of the week`}
            unit="cases an hour"
            series={arrivals}
            width={width}
            height={HEIGHT}
          />
        </>
      )}
      {staff && team && (
        <>
          <p className="flex flex-wrap items-baseline gap-x-4 text-sm text-ink-2">
            <b className="text-ink">What it asks of</b>
            <Choice
              quiet
              label="Team in the picture"
              value={team.id}
              options={study.teams.map((each) => ({ value: each.id, label: each.name }))}
              onChoose={setChosen}
            />
            {others.length > 0 && <span>with {others.map((id) => nameOf(study, "team", id)).join(", ")}, who share the work</span>}
            <Key look="area">work that comes in, in people</Key>
            <Key look="line">who is there</Key>
            <span>{staffInWords(week.data as DemandWeek, team.id)}</span>
          </p>
          <WeekChart
            label={`Work for ${team.name} beside who is there, by hour of the week`}
            unit="people"
            series={staff}
            width={width}
            height={HEIGHT + 12}
            days
          />
        </>
      )}
    </div>
  );
}

const round = (number: number) => Number(number.toFixed(number < 10 ? 1 : 0)).toLocaleString("en");

function arrivalSeries(week: DemandWeek, stream: string): WeekSeries[] {
  const all = Object.values(week.streams);
  const sum = all[0]?.expected.map((_, hour) => all.reduce((total, each) => total + (each.expected[hour] ?? 0), 0)) ?? [];
  const own = week.streams[stream];
  return [
    ...(all.length > 1 ? [{ values: sum, look: "ground" as const }] : []),
    ...(own ? [{ values: own.expected, look: "area" as const }] : []),
    ...(own?.simulated ? [{ values: own.simulated, look: "marks" as const }] : []),
  ];
}

/** A team's week together with those who share its work: who of them does it, nobody knows beforehand. */
function together(week: DemandWeek, team: string) {
  const all = [team, ...(week.teams[team]?.shared_with ?? [])].flatMap((id) => week.teams[id] ?? []);
  const added = (key: "work" | "members") =>
    all[0]?.[key].map((_, hour) => all.reduce((sum, each) => sum + (each[key][hour] ?? 0), 0)) ?? [];
  return { work: added("work"), members: added("members") };
}

function staffSeries(week: DemandWeek, team: string): WeekSeries[] {
  const { work, members } = together(week, team);
  return [
    { values: work, look: "area" },
    { values: members, look: "line" },
  ];
}

function busiestTeam(week: DemandWeek): string | undefined {
  const load = (team: string) => sumOf(together(week, team).work) / Math.max(sumOf(together(week, team).members), 1e-9);
  return Object.keys(week.teams).toSorted((one, other) => load(other) - load(one))[0];
}

const sumOf = (values: number[]) => values.reduce((sum, value) => sum + value, 0);

/** How the work of a team compares with its people, in words. */
function staffInWords(week: DemandWeek, team: string): string {
  const { work: needed, members } = together(week, team);
  const short = needed.filter((work, hour) => work > (members[hour] ?? 0) + 1e-9).length;
  if (short === 0) return "enough people in every hour";
  return `more work than people in ${short} ${short === 1 ? "hour" : "hours"} of the week`;
}

function Key({ look, children }: { look: WeekSeries["look"]; children: React.ReactNode }) {
  return (
    <span className="inline-flex items-baseline gap-1.5">
      <svg width={18} height={12} aria-hidden>
        {look === "ground" && <rect y={2} width={18} height={10} fill="var(--rule)" />}
        {look === "area" && <rect y={2} width={18} height={10} fill="var(--ink-2)" fillOpacity={0.55} />}
        {look === "line" && <path d="M0,9H9V3H18" fill="none" stroke="var(--ink)" strokeWidth={2} />}
        {look === "marks" && <circle cx={9} cy={6} r={2.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.3} />}
      </svg>
      {children}
    </span>
  );
}
