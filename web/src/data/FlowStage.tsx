import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { LineMap } from "../map/LineMap";
import { filledIn, type StudyDocument } from "../study/document/types";
import { takeDraft } from "../study/edits/drafts";
import { editWhole, useStudy } from "../study/session/store";
import { MAIN_BUTTON } from "../ui/Menu";
import { numberBetween, ValueField } from "../ui/ValueField";
import { counted, type Log } from "./logs";

type Draft = Schemas["Draft"];

/** A flow discovered from a log, drawn as a map: how much of the log it must cover is the analyst's to say. */
export function FlowStage({ log }: { log: Log }) {
  const [covers, setCovers] = useState(90);
  const draft = useQuery({
    queryKey: ["draft", log.id, log.treatment, covers],
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET("/api/logs/{log_id}/draft", { params: { path: { log_id: log.id }, query: { covers: covers / 100 } } })),
  });
  const name = useStudy((state) => state.document.name);
  const study = useMemo(
    () => (draft.data ? filledIn({ name, ...partsOf(draft.data) } as Schemas["StudyDocument"]) : null),
    [draft.data, name],
  );
  return (
    <div className="flex h-full min-h-0 flex-col pt-3">
      <p className="leading-8">
        The simplest flow whose ways at least{" "}
        <ValueField
          label="Share of cases that it covers"
          value={String(covers)}
          parse={numberBetween(10, 100)}
          suffix="%"
          onCommit={(next) => setCovers(Number(next))}
        />{" "}
        of the cases went, and no others; those who gave up do not count. {draft.data && <Covered draft={draft.data} />}
      </p>
      {draft.error && <p role="alert">{draft.error.message}</p>}
      {study && (
        <>
          <section aria-label="The flow of the log" className="min-h-64 flex-1 border-y border-rule" aria-busy={draft.isFetching}>
            <LineMap study={study} problems={[]} selection={null} mustBeWhole onSelect={() => undefined} />
          </section>
          <TakeFlow log={log} draft={study} alone={draft.data?.alone ?? []} />
        </>
      )}
    </div>
  );
}

const partsOf = ({ case_types, streams, steps, teams, sources }: Draft) => ({ case_types, streams, steps, teams, sources });

function Covered({ draft }: { draft: Draft }) {
  const steps = (draft.steps as { kind: string }[]).filter((step) => step.kind === "serve").length;
  return (
    <>
      This one covers <b>{(100 * draft.covers).toFixed(1)} %</b>, with {counted(steps, "step")}.
    </>
  );
}

function TakeFlow({ log, draft, alone }: { log: Log; draft: StudyDocument; alone: string[] }) {
  const study = useStudy((state) => state.whole);
  const navigate = useNavigate();
  const isBlank = study.steps.length === 0;
  const take = () => {
    editWhole(`The flow of ${log.name}`, (now) => takeDraft(now, draft), null);
    toast(`The flow of ${log.name} stands in the study, with its arrivals, durations and teams.`);
    void navigate(`/studies/${useStudy.getState().id}/flow`);
  };
  return (
    <div className="flex flex-wrap items-center gap-4 py-3">
      <button type="button" className={MAIN_BUTTON} onClick={take}>
        Take this flow
      </button>
      <p className="max-w-3xl flex-1 text-sm text-ink-2">
        With it come types, arrivals, durations and teams, as the log has them.
        {alone.length > 0 && ` Nobody is named at ${alone.join(", ")}: nobody is needed there until you say so.`}
        {!isBlank &&
          " It takes the place of the flow, streams, types and teams of this study, and of what refers to them; undo brings all back."}
      </p>
    </div>
  );
}
