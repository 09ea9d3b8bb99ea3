import type { Schemas } from "../api/client";
import type { Answer } from "../api/queries";
import { useStudy } from "../study/session/store";
import { money, percent, round, withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { Picture } from "../ui/Picture";
import type { Table } from "../ui/saving";
import type { Looked, Making } from "./looked";
import { MakeScenario } from "./MakeScenario";

type Titles = Record<string, Schemas["Title"] | null>;
type Proposal = Answer["proposals"][number];

const MOST_FIGURES = 3;

interface ProposalsTableProps extends Making {
  answer: Answer;
  titles: Titles;
  looked: Looked;
  onLook: (looked: Looked) => void;
}

/** What is proposed: what it costs and what changes against today, the figures that are aimed at, and how often it holds. */
export function ProposalsTable({ answer, titles, looked, onLook, made, make }: ProposalsTableProps) {
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  const addresses = answer.measures.slice(0, MOST_FIGURES);
  const today = answer.proposals.find(isToday)?.cost_per_week;
  const head = "px-2 py-1 text-right font-normal align-bottom";
  return (
    <Picture className="mt-4" title="Proposals" table={() => tableOf(answer, titles)} isDrawn={false}>
      <table aria-label="Proposals" className="w-full">
        <thead>
          <tr className="border-b border-ink text-sm text-ink-2">
            <th className="py-1 pl-2 text-left font-normal align-bottom">Staffing</th>
            <th className={head}>{currency} a week</th>
            <th className={head}>than today</th>
            {addresses.map((address) => (
              <th key={address} className={head}>
                {headOf(titles[address], address)}
              </th>
            ))}
            <th className={head}>replications in which it holds</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {answer.proposals.map((each, place) => {
            const isLooked = looked.of === "proposals" && looked.place === place;
            const at: Looked = { of: "proposals", place };
            return (
              <tr key={each.name} className={`border-b border-rule ${isLooked ? "bg-marker-light" : ""}`}>
                <td className="py-2 pl-2">
                  <button type="button" aria-pressed={isLooked} className="text-left" onClick={() => onLook(at)}>
                    <b>{each.name}</b>{" "}
                    <span className="whitespace-nowrap text-sm text-ink-2">
                      {each.people} people, {round(each.hours_per_week)} h
                    </span>
                  </button>
                </td>
                <td className="px-2 text-right font-bold">{money(each.cost_per_week)}</td>
                <td className="whitespace-nowrap px-2 text-right text-sm font-bold">
                  {!isToday(each) && today !== undefined && <Difference by={each.cost_per_week - today} />}
                </td>
                {addresses.map((address) => (
                  <td key={address} className="whitespace-nowrap px-2 text-right">
                    <FigureCell figure={each.figures[address]} title={titles[address]} />
                  </td>
                ))}
                <td className="whitespace-nowrap px-2 text-right text-sm text-ink-2">
                  {each.holds_in} of {each.out_of}
                </td>
                <td className="min-w-24 pr-2 text-right text-sm">
                  {!isToday(each) && <MakeScenario what={each.name} looked={at} made={made} onMake={make} />}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Picture>
  );
}

const isToday = (proposal: Proposal) => Object.keys(proposal.teams).length === 0 && Object.keys(proposal.levers).length === 0;

const headOf = (title: Schemas["Title"] | null | undefined, address: string) => (title ? `${title.name}, ${title.of}` : address);

function Difference({ by }: { by: number }) {
  if (Math.abs(by) < 0.5) return <span className="font-normal text-ink-2">as much</span>;
  return (
    <span className={by < 0 ? "text-better" : "text-wrong"}>
      <span aria-hidden className="mr-0.5 text-xs">
        {by < 0 ? "▼" : "▲"}
      </span>
      <span className="sr-only">{by < 0 ? "less by" : "more by"} </span>
      {money(Math.round(Math.abs(by)))}
    </span>
  );
}

type ToldFigure = Proposal["figures"][string];

function FigureCell({ figure, title }: { figure: ToldFigure | undefined; title: Schemas["Title"] | null | undefined }) {
  if (!figure || !title) return "–";
  const { mean, half } = shownFigure(figure, title);
  return (
    <>
      <b className={figure.keeps === "missed" ? "text-wrong" : undefined}>{mean}</b> <span className="text-sm text-ink-2">{half}</span>
      {figure.keeps === "missed" && <span className="sr-only"> misses the target</span>}
    </>
  );
}

function shownFigure(figure: ToldFigure, title: Schemas["Title"]) {
  const { factor, write } = scaleOf(title);
  return withInterval({ ...figure, low: null, high: null, sd: null }, factor, write);
}

function tableOf(answer: Answer, titles: Titles): Table {
  const addresses = [...new Set([...answer.measures, ...answer.proposals.flatMap(({ figures }) => Object.keys(figures))])];
  return {
    head: [
      "Staffing",
      "people",
      "hours a week",
      "cost a week",
      "holds in",
      ...addresses.flatMap((each) => [headOf(titles[each], each), "±"]),
    ],
    rows: answer.proposals.map((each) => [
      each.name,
      each.people,
      each.hours_per_week,
      each.cost_per_week,
      percent(each.holds_in / Math.max(1, each.out_of)),
      ...addresses.flatMap((address) => [each.figures[address]?.mean ?? null, each.figures[address]?.half_width ?? null]),
    ]),
  };
}
