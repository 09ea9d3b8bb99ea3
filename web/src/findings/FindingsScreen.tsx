import { useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { isOver, useFindings, useRuns } from "../api/queries";
import { lookedAt } from "../runs/looks";
import { MemoMenu } from "../runs/MemoMenu";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import type { FigureOf } from "../study/values/figures";
import { LINK_BUTTON } from "../ui/Menu";
import { GoingOn } from "./GoingOn";
import { OwnView } from "./OwnView";
import { RunChoice } from "./RunChoice";
import { Sentences } from "./Sentences";
import type { Shown } from "./shown";
import { TeamsSheet } from "./TeamsSheet";
import { useRunStudy } from "./useRunStudy";
import { VIEWS, type View, Viewed, viewOf } from "./Viewed";

/** What a run says: sentences first, then pictures, then tables. */
export function FindingsScreen() {
  const id = useStudy((state) => state.id);
  const runs = useRuns(id);
  const chosen = Number(useParams().runId);
  const readable = runs.data?.filter((run) => run.done > 0) ?? [];
  const run = chosen ? readable.find((each) => each.id === chosen) : readable[0];
  const [search] = useSearchParams();
  const readableParts = run?.parts.filter((each) => each.done > 0) ?? [];
  const chosenPart = readableParts.find((each) => each.scenario === search.get("scenario")) ?? readableParts[0];
  const part = run && chosenPart && lookedAt(run, chosenPart);
  const findings = useFindings(run, part);
  const study = useRunStudy(run, part);
  if (runs.data && !run) {
    return (
      <main className="h-full overflow-y-auto p-8">
        <h1 className="text-xl font-bold">No findings yet</h1>
        <p className="mt-2 mb-6 text-ink-2">Run the study, and what it says stands here. What it is to tell can be made before.</p>
        <OwnView shown={undefined} />
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
  const [search, setSearch] = useSearchParams();
  const view = VIEWS.find(([each]) => each === search.get("view"))?.[0] ?? "glance";
  const setView = (next: View) =>
    setSearch((before) => {
      before.set("view", next);
      return before;
    });
  const [quantity, setQuantity] = useState<string | null>(null);
  const [found, setFound] = useState("");
  const [hour, setHour] = useState<number | null>(null);
  const lookInto = (next: number) => {
    setHour(next);
    setView("week");
  };
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
      {!isOver(shown.run) && <GoingOn shown={shown} />}
      <Sentences shown={shown} findings={findings} onLead={lead}>
        <Link to={`/studies/${shown.run.study}/watch?run=${shown.run.id}&scenario=${shown.part.scenario}`} className={LINK_BUTTON}>
          Watch it
        </Link>
        <MemoMenu columns={[`${shown.run.id}:${shown.part.scenario}`]} />
      </Sentences>
      <div className="pt-3 pb-3">
        <Viewed
          view={view}
          shown={shown}
          study={study}
          findings={findings}
          quantity={quantity}
          onQuantity={setQuantity}
          found={found}
          hour={hour}
          onHour={lookInto}
        />
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
