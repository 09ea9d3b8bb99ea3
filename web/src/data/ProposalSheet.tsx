import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { WeekChart, type WeekSeries } from "../charts/WeekChart";
import { nameOf } from "../study/document/parts";
import type { Link, StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { round } from "../study/values/figures";
import type { RosterRow } from "../study/values/rosters";
import { MAIN_BUTTON } from "../ui/Menu";
import { FitPicture, QuantilesPicture } from "./FitPicture";
import { Shapes } from "./Shapes";
import type { Fitted, Proposal } from "./useProposals";
import { inShort, type Pick, pickOf, rowInWords, slotsInWords } from "./values";

interface ProposalSheetProps {
  proposal: Proposal;
  pick: Pick | undefined;
  onPick: (pick: Pick) => void;
  onTake: () => void;
}

type Slots = Schemas["Slots"];

const WIDTH = 340;

/** One value of a log, looked at: what it rests on, old beside new, and which shape is taken. */
export function ProposalSheet({ proposal, pick, onPick, onTake }: ProposalSheetProps) {
  const study = useStudy((state) => state.document);
  return (
    <aside aria-label="What it rests on" className="w-96 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-5 py-3">
      <h2 className="font-bold">
        {proposal.name} <span className="font-normal text-ink-2">{proposal.what}</span>
      </h2>
      <p className="mt-1 text-sm">{proposal.evidence}</p>
      {proposal.doubt && <p className="mt-1 border-l-2 border-ink pl-2 text-sm">{proposal.doubt}</p>}
      <div className="mt-3">
        <Details study={study} proposal={proposal} pick={pick ?? pickOf(proposal)} onPick={onPick} />
      </div>
      <dl className="mt-3 grid grid-cols-[5.5rem_1fr] gap-y-1 border-t border-rule pt-2 text-sm">
        <dt className="text-ink-2">the study has</dt>
        <dd>{inShort(study, proposal, proposal.old)}</dd>
        <dt className="text-ink-2">the log says</dt>
        <dd className="font-semibold">{inShort(study, proposal, proposal.new)}</dd>
        <dt className="text-ink-2">found by</dt>
        <dd>{proposal.method}</dd>
      </dl>
      <button type="button" className={`${MAIN_BUTTON} mt-4`} onClick={onTake}>
        Take it
      </button>
    </aside>
  );
}

interface DetailsProps {
  study: StudyDocument;
  proposal: Proposal;
  pick: Pick;
  onPick: (pick: Pick) => void;
}

function Details({ study, proposal, pick, onPick }: DetailsProps) {
  switch (proposal.kind) {
    case "time":
      return proposal.fitted ? <OfTime proposal={proposal} fitted={proposal.fitted} pick={pick} onPick={onPick} /> : null;
    case "arrivals":
      return <WeekBeside proposal={proposal} />;
    case "shares":
      return <SharesBeside study={study} old={proposal.old as Link[]} found={proposal.new as Link[]} />;
    case "mix":
      return <MixBeside study={study} proposal={proposal} />;
    case "roster":
      return <ListsBeside old={(proposal.old as RosterRow[]).map(rowInWords)} found={(proposal.new as RosterRow[]).map(rowInWords)} />;
    case "trait":
      return null;
    case "booking":
      return Array.isArray(proposal.new) ? (
        <ListsBeside old={(proposal.old as Slots[]).map(slotsInWords)} found={(proposal.new as Slots[]).map(slotsInWords)} />
      ) : null;
  }
}

function OfTime({ proposal, fitted, pick, onPick }: Omit<DetailsProps, "study"> & { fitted: Fitted }) {
  const fit = pick === "observed" ? undefined : fitted.fits[pick];
  return (
    <>
      <FitPicture fitted={fitted} old={proposal.old} found={fit?.value} factor={proposal.factor ?? 1} width={WIDTH} />
      {fit && <QuantilesPicture fit={fit} width={WIDTH} />}
      <Shapes fitted={fitted} pick={pick} onPick={onPick} />
      {(proposal.people ?? []).length > 0 && <PeopleTable people={proposal.people ?? []} />}
    </>
  );
}

/** Who takes how long on average, the slowest first; who differs from the others by more than chance is marked. */
function PeopleTable({ people }: { people: Schemas["PersonPace"][] }) {
  return (
    <table className="mt-3 w-full text-sm" aria-label="Who takes how long">
      <thead className="text-ink-2">
        <tr className="border-b border-ink">
          <th className="py-0.5 text-left font-normal">by person</th>
          <th className="py-0.5 text-right font-normal">times</th>
          <th className="py-0.5 text-right font-normal">mean, min</th>
          <th className="py-0.5 pl-3 text-left font-normal">between</th>
        </tr>
      </thead>
      <tbody>
        {people.map(({ name, many, mean, low, high, differs }) => (
          <tr key={name} className="border-b border-rule">
            <th scope="row" className={`py-0.5 text-left ${differs ? "font-semibold" : "font-normal"}`}>
              {name}
              {differs && " differs"}
            </th>
            <td className="py-0.5 text-right tabular-nums">{many.toLocaleString("en")}</td>
            <td className={`py-0.5 text-right tabular-nums ${differs ? "font-semibold" : ""}`}>{round(mean)}</td>
            <td className="py-0.5 pl-3 whitespace-nowrap text-ink-2 tabular-nums">
              {round(low)} and {round(high)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** An ordinary week: what the log counted as an area, what the study expects as a line. */
function WeekBeside({ proposal }: { proposal: Proposal }) {
  const { name, low = [], high = [] } = proposal;
  const [old, found] = [proposal.old as number[], proposal.new as number[]];
  const hasEnds = high.length > 0;
  const series = useMemo(
    (): WeekSeries[] => [
      { values: found, look: "area", ...(hasEnds && { ends: { low, high } }) },
      { values: old, look: "line" },
    ],
    [old, found, low, high, hasEnds],
  );
  return (
    <>
      <WeekChart
        label={`${name}: a week by the log beside the study’s`}
        unit="cases an hour"
        series={series}
        width={WIDTH}
        height={190}
        days
      />
      <p className="pt-1 text-sm text-ink-2">
        Areas are the log’s hours{hasEnds && ", each between the ends of its stroke"}; the line is the study’s.
      </p>
    </>
  );
}

interface Row {
  name: string;
  cells: (string | null)[];
}

/** Names with what is and what would be. */
function Beside({ rows }: { rows: Row[] }) {
  return (
    <table className="w-full text-sm">
      <thead className="text-ink-2">
        <tr className="border-b border-ink">
          <th className="py-0.5 text-left font-normal">of</th>
          <th className="py-0.5 text-right font-normal">study</th>
          <th className="py-0.5 text-right font-normal">log</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, cells }) => (
          <tr key={name} className="border-b border-rule">
            <th scope="row" className="py-0.5 text-left font-normal">
              {name}
            </th>
            {cells.map((each, n) => (
              <td key={n} className={`py-0.5 text-right tabular-nums ${n ? "font-semibold" : ""}`}>
                {each ?? "–"}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const shareWords = (share: number | null | undefined) => (share == null ? null : `${Number((100 * share).toFixed(1))} %`);

function SharesBeside({ study, old, found }: { study: StudyDocument; old: Link[]; found: Link[] }) {
  const types = [...new Set([...old, ...found].flatMap((link) => Object.keys(link.share_by_type ?? {})))];
  const shareOf = (link: Link | undefined, type: string | null) =>
    (type === null ? undefined : link?.share_by_type?.[type]) ?? (link?.share == null && type !== null ? undefined : link?.share);
  const rows = (types.length > 0 ? types : [null]).flatMap((type) =>
    found.map((link, n) => ({
      name: `${type === null ? "" : `${nameOf(study, "type", type)}: `}to ${nameOf(study, "step", link.to)}`,
      cells: [shareWords(shareOf(old[n], type)), shareWords(shareOf(link, type))],
    })),
  );
  return <Beside rows={rows} />;
}

function MixBeside({ study, proposal }: { study: StudyDocument; proposal: Proposal }) {
  const [old, found] = [proposal.old, proposal.new] as [Schemas["MixPart"][], Schemas["MixPart"][]];
  const types = [...new Set([...old, ...found].map(({ type }) => type))];
  const shareOf = (mix: Schemas["MixPart"][], type: string) => shareWords(mix.find((each) => each.type === type)?.share);
  return <Beside rows={types.map((type) => ({ name: nameOf(study, "type", type), cells: [shareOf(old, type), shareOf(found, type)] }))} />;
}

/** What is and what would be, each as lines. */
function ListsBeside({ old, found }: { old: string[]; found: string[] }) {
  return (
    <div className="space-y-2 text-sm">
      {[
        { words: "The study has", lines: old },
        { words: "The log says", lines: found },
      ].map(({ words, lines }) => (
        <div key={words}>
          <p className="text-ink-2">{words}</p>
          <ul>
            {lines.length === 0 && <li>always there</li>}
            {lines.map((line, n) => (
              <li key={`${line} ${n}`}>{line}</li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}
