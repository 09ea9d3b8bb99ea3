import { useState } from "react";
import { toast } from "sonner";
import type { Answer, Search } from "../api/queries";
import { useTitles } from "../fields/FigurePicker";
import { useStartRun } from "../runs/useStartRun";
import { useStudy } from "../study/session/store";
import { money } from "../study/values/figures";
import { SentenceText } from "../ui/SentenceText";
import { FrontierPicture } from "./FrontierPicture";
import { type Changed, keyOf, type Looked, type Making } from "./looked";
import { makeScenario } from "./makeScenario";
import { NeedPicture } from "./NeedPicture";
import { ProposalsTable } from "./ProposalsTable";

/** What a search found: the sentence, need beside rosters, the proposals, and what a little more would buy. */
export function Found({ answer, search }: { answer: Answer; search: Search }) {
  const [looked, setLooked] = useState<Looked>({ of: "proposals", place: Math.min(1, answer.proposals.length - 1) });
  const { make, made } = useMaking(answer, search);
  const titles = useTitles([...new Set([...answer.measures, ...answer.proposals.flatMap(({ figures }) => Object.keys(figures))])]);
  const shown: Changed | undefined = answer[looked.of][looked.place];
  const [first, ...others] = answer.says;
  return (
    <>
      <h2 className={`max-w-3xl font-bold ${lettersOf(first) > LARGE ? "text-lg leading-7" : "text-xl leading-8"}`}>
        {first && <SentenceText pieces={first} />}
      </h2>
      {others.map((sentence, n) => (
        <p key={n} className="max-w-3xl">
          <SentenceText pieces={sentence} />
        </p>
      ))}
      <p className="mt-1 text-sm text-ink-2">{groundsOf(answer)}</p>
      {shown && <NeedPicture answer={answer} shown={shown} />}
      {answer.proposals.length > 0 && (
        <ProposalsTable answer={answer} titles={titles} looked={looked} onLook={setLooked} made={made} make={make} />
      )}
      {answer.frontier.length > 1 && (
        <FrontierPicture
          answer={answer}
          title={titles[answer.aimed_at.figure]}
          looked={looked}
          onLook={setLooked}
          made={made}
          make={make}
        />
      )}
    </>
  );
}

/** A sentence stands in large type as long as it has no more letters than these. */
const LARGE = 150;

const lettersOf = (sentence: Answer["says"][number] = []) => sentence.reduce((sum, { words }) => sum + words.length, 0);

function groundsOf({ tried, weeks_simulated: weeks, need_holds, proposals }: Answer): string {
  const runs = Math.max(0, ...proposals.flatMap(({ figures }) => Object.values(figures).map(({ n }) => n)));
  const told = [
    `${tried.toLocaleString("en")} trials, ${Math.round(weeks).toLocaleString("en")} weeks simulated.`,
    need_holds && "The need was checked by simulation.",
    runs > 0 && `The figures of what is proposed are of ${runs} replications with luck by which nothing was chosen.`,
  ];
  return told.filter(Boolean).join(" ");
}

/** Makes scenarios of what was found, and offers to run them beside what was searched. */
function useMaking(answer: Answer, search: Search): Making {
  const [made, setMade] = useState<Record<string, string>>({});
  const start = useStartRun();
  const scenarios = useStudy((state) => state.whole.scenarios) ?? [];
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  const make = (looked: Looked) => {
    const found = answer[looked.of][looked.place];
    if (!found) return;
    const name = "name" in found ? found.name : `Right-sized for ${currency} ${money(found.cost_per_week)}`;
    const about = `Found by search ${search.number} (${search.name}): ${currency} ${money(found.cost_per_week)} a week.`;
    const { id, name: called } = makeScenario(name, about, found, search.scenario);
    setMade((before) => ({ ...before, [keyOf(looked)]: id }));
    toast(`“${called}” is a scenario now.`, {
      action: { label: "Run and compare", onClick: () => start.mutate([search.scenario, id]) },
    });
  };
  const there = Object.entries(made).filter(([, id]) => scenarios.some((each) => each.id === id));
  return { made: Object.fromEntries(there), make };
}
