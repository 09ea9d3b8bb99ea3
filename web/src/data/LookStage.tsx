import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { HourGrid } from "../charts/HourGrid";
import { timeOfDay } from "../study/values/days";
import { percent, round } from "../study/values/figures";
import { Picture } from "../ui/Picture";
import { Doubts } from "./Doubts";
import { HistogramPicture } from "./HistogramPicture";
import { counted, type Log } from "./logs";
import { UnreadLines } from "./UnreadLines";

type Look = NonNullable<Log["look"]>;

const MOST_STEPS = 30;
const MOST_PEOPLE = 14;
const MOST_WAYS = 14;

/** A log at a glance: what is doubtful in it first, then its steps, ways, arrivals, times and people. */
export function LookStage({ log }: { log: Log }) {
  const { look } = log;
  if (!look) return null;
  return (
    <div className="h-full overflow-y-auto pt-3 pb-6">
      <p className="text-[17px] leading-7">{inWords(look)}</p>
      {look.quiet.length > 0 && (
        <p className="text-sm text-ink-2">
          Nobody came on {look.quiet.slice(0, 6).join(", ")}
          {look.quiet.length > 6 && ` and ${look.quiet.length - 6} more days`}, though others of these weekdays are busy.
        </p>
      )}
      {look.noticed.map((each) => (
        <p key={each} className="text-sm text-ink-2">
          {each}
        </p>
      ))}
      <Doubts log={log} />
      {log.report && log.report.unread > 0 && (
        <div className="mt-3">
          <UnreadLines report={log.report} />
        </div>
      )}
      <div className="mt-4 grid gap-x-10 gap-y-7 xl:grid-cols-[3fr_2fr]">
        <StepsTable look={look} />
        <Ways look={look} />
        <Arrivals look={look} />
        <Picture title="From coming to leaving" aside="share of cases" table={() => totalTable(look)}>
          <HistogramPicture edges={look.edges} shares={look.total} label="How long cases are there" />
        </Picture>
        <PeopleTable look={look} />
      </div>
    </div>
  );
}

const whenOf = (moment: string) => moment.replace("T", " ");

function inWords(look: Look): string {
  const types = Object.keys(look.types).length;
  return [
    `${counted(look.cases, "case")} made ${counted(look.visits, "visit")} to ${counted(look.steps.length, "step")}`,
    `from ${whenOf(look.first)} to ${whenOf(look.last)}.`,
    types > 0 ? `They are of ${counted(types, "type")}.` : "No column tells their types.",
    look.many_people > 0 ? `${counted(look.many_people, "person is", "people are")} named.` : "Nobody who works is named.",
  ].join(" ");
}

const minutesOf = (times: number[] | null) => (times ? times.map((each) => round(each)) : ["", ""]);

/** The steps with how long work and waits take: the time that half, and that nine in ten, do not exceed. */
function StepsTable({ look }: { look: Look }) {
  const rows = look.steps.map(({ name, visits, cases, gave_up: left, people, work, wait }) => ({
    name,
    cells: [visits, cases, ...minutesOf(work), ...minutesOf(wait), left, people],
  }));
  const head = ["Visits", "Cases", "Work, half up to", "9 in 10 up to", "Wait, half up to", "9 in 10 up to", "Gave up", "People"];
  return (
    <Picture
      title="Steps"
      aside="times in minutes"
      isDrawn={false}
      table={() => ({ head: ["Step", ...head], rows: rows.map(({ name, cells }) => [name, ...cells]) })}
    >
      <div className="overflow-x-auto">
        <table className="w-full text-sm">
          <thead className="text-ink-2">
            <tr className="border-b border-ink align-bottom">
              <th className="py-1 text-left font-normal">Step</th>
              {head.map((each, n) => (
                <th key={`${each} ${n}`} className="py-1 pl-3 text-right font-normal">
                  {each}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, MOST_STEPS).map(({ name, cells }) => (
              <tr key={name} className="border-b border-rule">
                <th scope="row" className="py-1 text-left font-semibold">
                  {name}
                </th>
                {cells.map((each, n) => (
                  <td key={n} className="py-1 pl-3 text-right tabular-nums">
                    {typeof each === "number" ? (n >= 6 && each === 0 ? "" : each.toLocaleString("en")) : each}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows.length > MOST_STEPS && (
        <p className="mt-1 text-sm text-ink-2">and {rows.length - MOST_STEPS} more, which the saved table has</p>
      )}
    </Picture>
  );
}

/** The ways that cases go, the most usual first. */
function Ways({ look }: { look: Look }) {
  const nameOf = (place: number) => look.steps[place]?.name ?? "";
  const ways = look.variants.map(({ steps, cases }) => ({ words: steps.map(nameOf), cases, share: cases / look.cases }));
  const most = ways[0]?.share ?? 1;
  return (
    <Picture
      title="Ways"
      aside={`${counted(look.many_variants, "way")} in all`}
      isDrawn={false}
      table={() => ({ head: ["Way", "Cases", "Share"], rows: ways.map((way) => [way.words.join(" → "), way.cases, way.share]) })}
    >
      <ol className="space-y-1 text-sm">
        {ways.slice(0, MOST_WAYS).map((way) => (
          <li key={way.words.join(">")} className="grid grid-cols-[3.2rem_1fr] items-baseline gap-2">
            <span className="text-right tabular-nums">{way.share < 0.01 ? "< 1 %" : percent(way.share)}</span>
            <span>
              {way.words.join(" → ")}
              <span className="block h-1 bg-ink" style={{ width: `${(100 * way.share) / most}%` }} />
            </span>
          </li>
        ))}
      </ol>
      {look.many_variants > MOST_WAYS && (
        <p className="mt-1 text-sm text-ink-2">and {(look.many_variants - MOST_WAYS).toLocaleString("en")} more ways that fewer go</p>
      )}
    </Picture>
  );
}

function Arrivals({ look }: { look: Look }) {
  const week = useMemo(
    () => ({
      quantity: "log/arrived",
      title: { name: "Arrivals", of: "", unit: "count" } as Schemas["Title"],
      mean: look.by_hour.map((each) => (each > 0 ? each : null)),
      half_width: [],
    }),
    [look],
  );
  return (
    <Picture title="Arrivals by the hour" aside="cases an hour, on average" table={() => hoursTable(look)}>
      <HourGrid week={week} />
    </Picture>
  );
}

/** Who works, on how many days, and usually from when until when. */
function PeopleTable({ look }: { look: Look }) {
  if (look.many_people === 0) return null;
  const rows = look.people.map(({ name, visits, days, begins, ends }) => [
    name,
    visits,
    days,
    timeOfDay(Math.round(begins)),
    timeOfDay(Math.round(ends)),
  ]);
  return (
    <Picture
      title="Who works when"
      aside="usually, by the first and the last thing that each does on a day"
      isDrawn={false}
      table={() => ({ head: ["Person", "Visits", "Days", "From", "To"], rows })}
    >
      <table className="w-full text-sm">
        <thead className="text-ink-2">
          <tr className="border-b border-ink">
            {["Person", "Visits", "Days", "From", "To"].map((each, n) => (
              <th key={each} className={`py-1 font-normal ${n ? "pl-3 text-right" : "text-left"}`}>
                {each}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST_PEOPLE).map((row) => (
            <tr key={String(row[0])} className="border-b border-rule">
              {row.map((each, n) => (
                <td key={n} className={`py-1 tabular-nums ${n ? "pl-3 text-right" : "font-semibold"}`}>
                  {typeof each === "number" ? each.toLocaleString("en") : each}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {look.many_people > MOST_PEOPLE && <p className="mt-1 text-sm text-ink-2">and {look.many_people - MOST_PEOPLE} more</p>}
    </Picture>
  );
}

const totalTable = (look: Look) => ({
  head: ["From, min", "To, min", "Share of cases"],
  rows: look.total.map((share, n) => [look.edges[n] ?? null, look.edges[n + 1] ?? null, share]),
});

const hoursTable = (look: Look) => ({
  head: ["Hour of the week", "Arrivals"],
  rows: look.by_hour.map((many, hour) => [hour, many]),
});
