import { useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useFindings, useRuns } from "../api/queries";
import { CostLines } from "../charts/CostLines";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import type { FigureOf } from "../study/values/figures";
import { CoursePicture } from "./CoursePicture";
import { FiguresTable } from "./FiguresTable";
import { GroupsView } from "./GroupsView";
import { MinutesPicture } from "./MinutesPicture";
import { ObservedView } from "./ObservedView";
import { OneMoreView } from "./OneMoreView";
import { PeoplePicture } from "./PeoplePicture";
import { RunChoice } from "./RunChoice";
import { Sentences } from "./Sentences";
import { SpreadPicture } from "./SpreadPicture";
import { StepsView } from "./StepsView";
import { type Shown, useGroups } from "./shown";
import { TeamsSheet } from "./TeamsSheet";
import { useRunStudy } from "./useRunStudy";
import { WeekPicture } from "./WeekPicture";

type View = "glance" | "steps" | "week" | "spread" | "time" | "people" | "cost" | "counts" | "more" | "observed" | "figures";

const VIEWS: [View, string][] = [
  ["glance", "At a glance"],
  ["steps", "Steps"],
  ["week", "Week"],
  ["spread", "Spread"],
  ["time", "Over time"],
  ["people", "People"],
  ["cost", "Costs"],
  ["counts", "Counts"],
  ["more", "One more"],
  ["observed", "Observed"],
  ["figures", "All figures"],
];

/** What a run says: sentences first, then pictures, then tables. */
export function FindingsScreen() {
  const id = useStudy((state) => state.id);
  const runs = useRuns(id);
  const chosen = Number(useParams().runId);
  const readable = runs.data?.filter((run) => run.done > 0) ?? [];
  const run = chosen ? readable.find((each) => each.id === chosen) : readable[0];
  const [search] = useSearchParams();
  const readableParts = run?.parts.filter((each) => each.done > 0) ?? [];
  const part = readableParts.find((each) => each.scenario === search.get("scenario")) ?? readableParts[0];
  const findings = useFindings(run, part);
  const study = useRunStudy(run, part);
  if (runs.data && !run) {
    return (
      <main className="p-8">
        <h1 className="text-xl font-bold">No findings yet</h1>
        <p className="mt-2 text-ink-2">Run the study, and what it says stands here.</p>
      </main>
    );
  }
  if (!run || !part || !findings.data || !study)
    return (
      <main aria-busy className="p-8 text-ink-2">
        Reading the figures …
      </main>
    );
  const figure: FigureOf = (address) => findings.data.figures[address];
  const shown = { run, part };
  return (
    <div className="flex h-full min-h-0">
      <Reading shown={shown} study={study} findings={findings.data} />
      <TeamsSheet study={study} figure={figure} costs={findings.data.costs} runs={<RunChoice runs={readable} shown={shown} />} />
    </div>
  );
}

interface ReadingProps {
  shown: Shown;
  study: StudyDocument;
  findings: Schemas["RunFindings"];
}

/** The sentences, and under them one view of the run. */
function Reading({ shown, study, findings }: ReadingProps) {
  const [view, setView] = useState<View>("glance");
  const [quantity, setQuantity] = useState<string | null>(null);
  const [found, setFound] = useState("");
  const main = useRef<HTMLElement>(null);
  const lead = (address: string) => {
    if (document.querySelector(`[data-figure~="${CSS.escape(address)}"]`)) return;
    const next = viewOf(address);
    if (next === "week") setQuantity(address.slice(0, address.lastIndexOf("/")));
    if (next === "figures") setFound(address);
    setView(next);
  };
  return (
    <main ref={main} className="flex min-w-0 flex-1 flex-col overflow-y-auto px-6.5 pt-3.5">
      <Sentences shown={shown} findings={findings} onLead={lead} />
      <div className="pt-3 pb-3">
        <Viewed view={view} shown={shown} study={study} findings={findings} quantity={quantity} onQuantity={setQuantity} found={found} />
      </div>
      <div
        role="group"
        aria-label="View of the findings"
        className="sticky bottom-0 z-10 mt-auto flex flex-wrap gap-x-4 border-t border-rule bg-paper py-2 text-sm"
      >
        {VIEWS.map(([each, words]) => (
          <button
            key={each}
            type="button"
            aria-pressed={view === each}
            className="border-b-2 border-transparent pb-0.5 text-ink-2 aria-pressed:border-ink aria-pressed:font-bold aria-pressed:text-ink"
            onClick={() => {
              setView(each);
              main.current?.scrollTo(0, 0);
            }}
          >
            {words}
          </button>
        ))}
      </div>
    </main>
  );
}

/** Where a figure stands that is not on the page: hours in the week, those of steps with them, all else among all figures. */
function viewOf(address: string): View {
  if (address.includes("/hour:")) return "week";
  return /^step\/[^/]+\/(cause:|wait\/(mean|p90)|abandoned$)/.test(address) ? "steps" : "figures";
}

interface ViewedProps extends ReadingProps {
  view: View;
  quantity: string | null;
  onQuantity: (quantity: string) => void;
  found: string;
}

function Viewed({ view, shown, study, findings, quantity, onQuantity, found }: ViewedProps) {
  const [spread, setSpread] = useState<string | null>(null);
  const week = known(findings.weekly, quantity) ?? worstLine(findings) ?? findings.weekly[0]?.quantity ?? "";
  const whose = known(findings.spread, spread) ?? known(findings.spread, "type/all/wait") ?? "";
  const figure: FigureOf = (address) => findings.figures[address];
  const types = <MinutesPicture title="Where the minutes go" aside="mean per case" study={study} bars={findings.types} />;
  switch (view) {
    case "glance":
      return (
        <>
          {types}
          <div className="mt-3 grid grid-cols-2 gap-x-8 gap-y-4 max-[1180px]:grid-cols-1">
            <WeekPicture shown={shown} quantities={findings.weekly} quantity={week} onQuantity={onQuantity} />
            <SpreadPicture shown={shown} quantities={findings.spread} quantity={whose} onQuantity={setSpread} />
          </div>
        </>
      );
    case "steps":
      return <StepsView study={study} shown={shown} />;
    case "week":
      return <WeekPicture shown={shown} quantities={findings.weekly} quantity={week} onQuantity={onQuantity} rowHeight={34} />;
    case "spread":
      return <SpreadPicture shown={shown} quantities={findings.spread} quantity={whose} onQuantity={setSpread} height={300} />;
    case "time":
      return <CoursePicture shown={shown} settled={findings.settled} />;
    case "cost":
      return (
        <CostLines
          lines={findings.costs}
          teamName={(team) => nameOf(study, "team", team)}
          currency={study.currency ?? "EUR"}
          day={figure("cost/total/per:open-day") ? "per_open_day" : "per_day"}
        />
      );
    case "people":
      return <People shown={shown} study={study} />;
    case "counts":
      return <Counts shown={shown} />;
    case "more":
      return <OneMoreView key={`${shown.run.id} ${shown.part.scenario}`} shown={shown} />;
    case "observed":
      return <ObservedView shown={shown} formulas={findings.formulas} />;
    case "figures":
      return <FiguresTable key={found} shown={shown} first={found} />;
  }
}

/** What members do through the day, and each one's share. */
function People({ shown, study }: { shown: Shown; study: StudyDocument }) {
  const groups = useGroups(shown);
  return (
    <>
      <PeoplePicture shown={shown} study={study} />
      <div className="h-3" />
      <GroupsView groups={(groups ?? []).filter(({ subject }) => subject === "member")} />
    </>
  );
}

/** Outcomes, streams, ways, spans and deadlines. */
function Counts({ shown }: { shown: Shown }) {
  const groups = useGroups(shown);
  return <GroupsView groups={(groups ?? []).filter(({ subject }) => subject !== "member")} />;
}

const known = (quantities: Schemas["Quantity"][], wanted: string | null) => quantities.find((each) => each.quantity === wanted)?.quantity;

/** What a sentence tells of by the hour, such as the wait where it is worst; else the wait of all cases. */
function worstLine({ weekly, sentences }: Schemas["RunFindings"]): string | undefined {
  const told = sentences.flatMap(({ sentence }) => sentence.flatMap(({ address }) => address ?? []));
  const worst = told.map((address) => /^(.+)\/hour:/.exec(address)?.[1]).find((found) => found);
  return known(weekly, worst ?? "type/all/wait");
}
