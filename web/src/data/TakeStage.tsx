import { useState } from "react";
import { toast } from "sonner";
import { takeOver } from "../study/edits/taking";
import { edit, useStudy } from "../study/session/store";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { counted, type Log } from "./logs";
import { NamesTable } from "./NamesTable";
import { ProposalSheet } from "./ProposalSheet";
import { type Proposal, useProposals } from "./useProposals";
import { inShort, type Picks, withPick } from "./values";

/** What a log says beside what the study has: each value is looked at, and taken singly or with others, as an edit. */
export function TakeStage({ log }: { log: Log }) {
  const found = useProposals(log);
  const [selected, setSelected] = useState<string | null>(null);
  const [picks, setPicks] = useState<Picks>({});
  if (found.error) return <p role="alert">{found.error.message}</p>;
  if (!found.data) return <p aria-busy>Putting the log beside the study …</p>;
  const { matching, aside } = found.data;
  const proposals = found.data.proposals.map((each) => withPick(each, picks[each.at]));
  const shown = proposals.find((each) => each.at === selected) ?? proposals[0];
  const take = (taken: Proposal[]) => takeFrom(log, taken);
  return (
    <div className="-mr-6.5 flex h-full min-h-0">
      <div className="min-w-0 flex-1 overflow-y-auto pt-3 pr-6 pb-6">
        {proposals.length === 0 ? (
          <p>Nothing in the log has its place in the study yet. Say below what its names stand for, or take a flow from it.</p>
        ) : (
          <>
            <TakeMany proposals={proposals} onTake={take} />
            <ProposalsTable log={log} proposals={proposals} selected={shown?.at} onSelect={setSelected} onTake={(one) => take([one])} />
          </>
        )}
        {aside.length > 0 && (
          <ul aria-label="What is left aside" className="mt-3 text-sm text-ink-2">
            {aside.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        )}
        <NamesTable log={log} matching={matching} />
      </div>
      {shown && (
        <ProposalSheet
          key={shown.at}
          proposal={shown}
          pick={picks[shown.at]}
          onPick={(pick) => setPicks({ ...picks, [shown.at]: pick })}
          onTake={() => take([shown])}
        />
      )}
    </div>
  );
}

const today = () => new Date().toISOString().slice(0, 10);

/** Takes values over as one edit, each with where it comes from. */
function takeFrom(log: Log, taken: Proposal[]): void {
  const [first] = taken;
  if (!first) return;
  const what = taken.length === 1 ? `${first.name}, ${first.what}` : `${taken.length} values`;
  const source = { file: log.name, rows: log.rows, date: today() };
  edit(`Take ${what}, from ${log.name}`, (study) => {
    for (const proposal of taken) takeOver(study, proposal, { ...source, method: proposal.method });
  });
  toast(`Took ${what} from ${log.name}.`);
}

const howMany = (many: number, of: number) =>
  many === of ? "all agree" : many === 0 ? "none agrees" : `${many} of them ${many === 1 ? "agrees" : "agree"}`;

const differs = (proposal: Proposal) => proposal.agrees !== true;

function TakeMany({ proposals, onTake }: { proposals: Proposal[]; onTake: (taken: Proposal[]) => void }) {
  const different = proposals.filter(differs);
  const sound = different.filter((each) => !each.doubt);
  const agreeing = proposals.length - different.length;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <p className="basis-full">
        The log tells <b>{counted(proposals.length, "value")}</b>; {howMany(agreeing, proposals.length)} with the study, but for chance.
      </p>
      {sound.length > 0 && (
        <button type="button" className={MAIN_BUTTON} onClick={() => onTake(sound)}>
          Take {sound.length === 1 ? "the one that differs" : `the ${sound.length} that differ`}
          {sound.length < different.length && " without a doubt"}
        </button>
      )}
      <button type="button" className={QUIET_BUTTON} onClick={() => onTake(proposals)}>
        Take all {proposals.length}
      </button>
    </div>
  );
}

interface ProposalsTableProps {
  log: Log;
  proposals: Proposal[];
  selected: string | undefined;
  onSelect: (at: string) => void;
  onTake: (proposal: Proposal) => void;
}

function ProposalsTable({ log, proposals, selected, onSelect, onTake }: ProposalsTableProps) {
  const study = useStudy((state) => state.document);
  const sources = study.sources ?? {};
  return (
    <table className="mt-3 w-full table-fixed" aria-label="Values of the log beside those of the study">
      <thead className="text-sm text-ink-2">
        <tr className="border-b border-ink">
          <th className="w-[32%] py-1 text-left font-normal">Of</th>
          <th className="py-1 pl-3 text-left font-normal">the study has</th>
          <th className="py-1 pl-3 text-left font-normal">the log says</th>
          <th className="w-28 py-1 pl-3 text-left font-normal">and so it</th>
          <th className="w-12">
            <span className="sr-only">Take it</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {proposals.map((each) => (
          <tr key={each.at} className={`border-b border-rule align-top ${each.at === selected ? "bg-marker-light" : ""}`}>
            <th scope="row" className="py-1 text-left font-normal">
              <button
                type="button"
                aria-pressed={each.at === selected}
                className="text-left hover:underline"
                onClick={() => onSelect(each.at)}
              >
                <b>{each.name}</b> <span className="text-sm text-ink-2">{each.what}</span>
              </button>
            </th>
            <td className="py-1 pl-3 text-sm text-ink-2">{inShort(study, each, each.old)}</td>
            <td className="py-1 pl-3 text-sm font-semibold">{inShort(study, each, each.new)}</td>
            <td className="py-1 pl-3 text-sm">
              <Verdict proposal={each} isTaken={sources[each.at]?.file === log.name} />
            </td>
            <td className="py-1 pr-1 text-right">
              <button
                type="button"
                className="border-b-2 border-ink text-sm font-semibold hover:border-marker"
                aria-label={`Take ${each.name}, ${each.what}`}
                onClick={() => onTake(each)}
              >
                Take
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Verdict({ proposal, isTaken }: { proposal: Proposal; isTaken: boolean }) {
  const doubt = proposal.doubt ? ", doubtful" : "";
  if (isTaken) return <span className="text-better">taken from here</span>;
  if (proposal.agrees) return <span className="text-ink-2">agrees{doubt}</span>;
  return (
    <span className="font-semibold">
      {proposal.agrees === null ? "may differ" : "differs"}
      {doubt}
    </span>
  );
}
