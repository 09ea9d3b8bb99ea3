import { useId, useState } from "react";
import type { Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { DAYS } from "../study/values/days";
import { round } from "../study/values/figures";
import { Choice } from "../ui/Choice";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { type Shown, useWeeks } from "./shown";

/** The states of members who are there, from the axis upwards: told by form first. */
const STATES = [
  { state: "working", words: "at work", fill: "var(--ink)" },
  { state: "walking", words: "walking", fill: "var(--ink-2)" },
  { state: "interrupted", words: "called away", fill: "hatched" },
  { state: "break", words: "on a break", fill: "half" },
  { state: "idle", words: "free", fill: "var(--sheet)" },
  { state: "absent", words: "absent", fill: "crossed" },
] as const;

const HEIGHT = 220;
const [LEFT, TOP, BOTTOM] = [36, 8, 22];
const HOURS = Array.from({ length: 24 }, (_, hour) => hour);

/** What the members of a team do through a day of the week, stacked. */
export function PeoplePicture({ shown, study }: { shown: Shown; study: StudyDocument }) {
  const [chosen, setTeam] = useState<string | null>(null);
  const [day, setDay] = useState<number | null>(null);
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const team = study.teams.find(({ id }) => id === chosen) ?? study.teams[0];
  const weeks = useWeeks(shown, team ? [`team/${team.id}/present`, ...STATES.map(({ state }) => `team/${team.id}/state:${state}`)] : []);
  if (!team) return <p className="text-ink-2">The study has no teams.</p>;
  const members = weeks && membersOf(weeks);
  const first = members ? DAYS.findIndex((_, n) => HOURS.some((hour) => sumAt(members, 24 * n + hour) > 0)) : 0;
  const shownDay = day ?? Math.max(0, first);
  const choices = (
    <>
      <Choice
        quiet
        label="Whose states"
        value={team.id}
        options={study.teams.map(({ id, name }) => ({ value: id, label: name }))}
        onChoose={setTeam}
      />
      <span className="mx-1">on a</span>
      <Choice
        quiet
        label="Day of the states"
        value={String(shownDay)}
        options={DAYS.map(({ name }, n) => ({ value: String(n), label: name }))}
        onChoose={(chosenDay) => setDay(Number(chosenDay))}
      />
    </>
  );
  return (
    <Picture title="What members do" aside={choices} table={() => tableOf(members)}>
      <div ref={holder} style={{ minHeight: HEIGHT }}>
        {members && <Stacked members={members} day={shownDay} width={width} team={team.name} />}
      </div>
    </Picture>
  );
}

type Members = { state: string; words: string; fill: string; hours: number[] }[];

/** How many members are in each state, hour by hour of the week: their shares times as many as there are. */
function membersOf([present, ...states]: Schemas["RunWeek"][]): Members | undefined {
  if (!present) return undefined;
  const there = (hour: number) => STATES.reduce((sum, { state }, n) => sum + (state === "absent" ? 0 : (states[n]?.mean[hour] ?? 0)), 0);
  const sizes = present.mean.map((mean, hour) => (mean && there(hour) > 0 ? mean / there(hour) : 0));
  const all = Math.max(...sizes);
  return STATES.map((each, n) => ({ ...each, hours: (states[n]?.mean ?? []).map((share) => (share ?? 0) * all) }));
}

const sumAt = (members: Members, hour: number) => members.reduce((sum, { hours }) => sum + (hours[hour] ?? 0), 0);

interface StackedProps {
  members: Members;
  day: number;
  width: number;
  team: string;
}

function Stacked({ members, day, width, team }: StackedProps) {
  const scope = useId().replaceAll(":", "");
  const at = (hour: number) => 24 * day + hour;
  const used = HOURS.filter((hour) => sumAt(members, at(hour)) > 0.005);
  const [first, last] = [used[0] ?? 8, (used.at(-1) ?? 16) + 1];
  const most = Math.max(...Array.from({ length: 168 }, (_, hour) => sumAt(members, hour)), 1e-9);
  const x = (hour: number) => LEFT + ((width - LEFT - 8) * (hour - first)) / (last - first);
  const y = (many: number) => HEIGHT - BOTTOM - ((HEIGHT - TOP - BOTTOM) * many) / most;
  const told = members.filter(({ hours }) => hours.some((many) => many > 0.005));
  const fillOf = (fill: string) => (fill.startsWith("var") ? fill : `url(#${scope}-${fill})`);
  return (
    <svg width={width} height={HEIGHT + 26} role="img" aria-label={`What ${team} do on a ${DAYS[day]?.name}: ${spoken(told, day)}`}>
      <Patterns scope={scope} />
      {[0, 0.5, 1].map((part) => (
        <g key={part}>
          <line x1={LEFT} x2={width - 8} y1={y(part * most)} y2={y(part * most)} stroke="var(--rule)" />
          <text x={LEFT - 6} y={y(part * most) + 4} fontSize={12} textAnchor="end" fill="var(--ink-2)">
            {round(part * most)}
          </text>
        </g>
      ))}
      {HOURS.slice(first, last).map((hour) => {
        let below = 0;
        return told.map(({ state, words, fill, hours }) => {
          const many = hours[at(hour)] ?? 0;
          const [from, to] = [below, (below += many)];
          if (many < 0.002) return null;
          return (
            <rect
              key={`${hour} ${state}`}
              x={x(hour)}
              width={x(hour + 1) - x(hour) - 0.5}
              y={y(to)}
              height={y(from) - y(to)}
              fill={fillOf(fill)}
              stroke="var(--ink)"
              strokeWidth={0.5}
            >
              <title>{`${hour}:00 to ${hour + 1}:00: ${round(many)} ${words}`}</title>
            </rect>
          );
        });
      })}
      {HOURS.slice(first, last).map((hour) => (
        <text key={hour} x={x(hour)} y={HEIGHT - 6} fontSize={12} fill="var(--ink-2)">
          {hour}
        </text>
      ))}
      {told.map(({ state, words, fill }, n) => (
        <g key={state} transform={`translate(${LEFT + n * 112} ${HEIGHT + 8})`}>
          <rect width={18} height={12} fill={fillOf(fill)} stroke="var(--ink)" strokeWidth={0.5} />
          <text x={24} y={11} fontSize={13} fill="var(--ink-2)">
            {words}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Hatched for called away, half filled for a break, crossed for absent. */
function Patterns({ scope }: { scope: string }) {
  const lines = { hatched: "M0 3H6", half: "M0 1.5H6", crossed: "M0 3H6M3 0V6" };
  return (
    <defs>
      {Object.entries(lines).map(([name, path]) => (
        <pattern key={name} id={`${scope}-${name}`} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width={6} height={6} fill="var(--sheet)" />
          <path d={path} stroke="var(--ink)" strokeWidth={name === "half" ? 3 : 1.2} fill="none" />
        </pattern>
      ))}
    </defs>
  );
}

const spoken = (members: Members, day: number) =>
  members
    .map(({ words, hours }) => `${round(hours.slice(24 * day, 24 * day + 24).reduce((sum, many) => sum + many, 0))} hours ${words}`)
    .join(", ");

function tableOf(members: Members | undefined) {
  return {
    head: ["Day", "From", ...STATES.map(({ words }) => `${words}, members`)],
    rows: Array.from({ length: 168 }, (_, n) => [
      DAYS[Math.floor(n / 24)]?.name ?? "",
      `${n % 24}:00`,
      ...(members ?? []).map(({ hours }) => hours[n] ?? 0),
    ]),
  };
}
