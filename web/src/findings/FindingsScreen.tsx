import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { type Run, type RunPart, useFigures, useRuns } from "../api/queries";
import { WaitHistogram } from "../charts/WaitHistogram";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import type { FigureOf } from "./figures";
import { Headline } from "./Headline";
import { StepsTable } from "./StepsTable";
import { TeamsSheet } from "./TeamsSheet";
import { TypesTable } from "./TypesTable";
import { useRunStudy } from "./useRunStudy";

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
  const figures = useFigures(run, part);
  const study = useRunStudy(run, part);
  if (runs.data && !run) {
    return (
      <main className="p-8">
        <h1 className="text-xl font-bold">No findings yet</h1>
        <p className="mt-2 text-ink-2">Run the study, and what it says stands here.</p>
      </main>
    );
  }
  if (!run || !part || !figures.data || !study)
    return (
      <main aria-busy className="p-8 text-ink-2">
        Reading the figures …
      </main>
    );
  const figure: FigureOf = (address) => figures.data.figures[address];
  return (
    <div className="flex h-full min-h-0">
      <main className="min-w-0 flex-1 overflow-y-auto px-6.5 py-5">
        <Headline run={run} part={part} figures={figures.data} />
        <div className="mt-5 grid grid-cols-[minmax(0,1fr)_auto] gap-x-8 gap-y-5 max-[1180px]:grid-cols-1">
          <TypesTable study={study} figure={figure} />
          <Waits study={study} waits={figures.data.waits} figure={figure} />
        </div>
        <StepsTable study={study} figure={figure} />
      </main>
      <TeamsSheet study={study} figure={figure} costs={figures.data.costs} runs={<RunChoice runs={readable} run={run} part={part} />} />
    </div>
  );
}

function RunChoice({ runs, run, part }: { runs: Run[]; run: Run; part: RunPart }) {
  const navigate = useNavigate();
  const go = (id: string | number, scenario?: string) =>
    void navigate(`/studies/${run.study}/findings/${id}${scenario ? `?scenario=${scenario}` : ""}`);
  return (
    <span className="flex flex-wrap gap-x-3">
      <Choice
        quiet
        label="Which run"
        value={String(run.id)}
        options={runs.map((each) => ({ value: String(each.id), label: `${each.name || `Run ${each.number}`}, version ${each.version}` }))}
        onChoose={(id) => go(id)}
      />
      {run.parts.length > 1 && (
        <Choice
          quiet
          label="Which scenario"
          value={part.scenario || TODAY}
          options={run.parts.filter((each) => each.done > 0).map((each) => ({ value: each.scenario || TODAY, label: each.name }))}
          onChoose={(scenario) => go(run.id, scenario === TODAY ? "" : scenario)}
        />
      )}
    </span>
  );
}

/** Stands for the study as it is among the choices, none of which may be empty. */
const TODAY = "today:";

interface WaitsProps {
  study: StudyDocument;
  waits: { subject: string; width: number; counts: number[] }[];
  figure: FigureOf;
}

function Waits({ study, waits, figure }: WaitsProps) {
  const [subject, setSubject] = useState("type/all");
  const shown = waits.find((each) => each.subject === subject) ?? waits.find((each) => each.subject === "type/all");
  const options = [
    { value: "type/all", label: "on the whole way, all" },
    ...study.case_types.map((type) => ({ value: `type/${type.id}`, label: `on the whole way, ${type.name}` })),
    ...study.steps
      .filter((step) => step.kind === "serve" && (step.needs ?? []).length > 0)
      .map((step) => ({ value: `step/${step.id}`, label: `at ${step.name}` })),
  ];
  if (!shown) return null;
  const whose = shown.subject as `type/${string}` | `step/${string}`;
  const percentile = (which: "p50" | "p90") => figure(`${whose}/wait/${which}`)?.mean ?? null;
  return (
    <section aria-label="How long they wait" data-figure="type/all/wait/p50 type/all/wait/p90">
      <h2 className="text-sm">
        <b>How long they wait</b> <Choice quiet label="Waits of whom" value={shown.subject} options={options} onChoose={setSubject} />
      </h2>
      <WaitHistogram waits={shown} median={percentile("p50")} ninth={percentile("p90")} />
    </section>
  );
}
