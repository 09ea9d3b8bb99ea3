import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { Outlet, useNavigate, useParams, useSearchParams } from "react-router";
import { api, ask, type Schemas } from "../api/client";
import { PulseStrip } from "../pulse/PulseStrip";
import { usePulseBeat } from "../pulse/usePulse";
import { useStartRun } from "../runs/useStartRun";
import { partAt } from "../study/document/parts";
import { filledIn } from "../study/document/types";
import { keepDraft, unsavedDraft, useAutosave } from "../study/session/autosave";
import { open, select, useStudy } from "../study/session/store";
import { ConflictDialog } from "./ConflictDialog";
import { Palette } from "./Palette";
import { Rail } from "./Rail";
import { Shortcuts } from "./Shortcuts";
import { TopBar } from "./TopBar";
import { useShortcuts } from "./useShortcuts";

/** One window for all work on a study: top bar, rail, the current stage, the pulse. */
export function Workbench() {
  const id = Number(useParams().studyId);
  const navigate = useNavigate();
  const study = useQuery({
    queryKey: ["study", id],
    queryFn: () => ask(api.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const [isOpen, setOpen] = useState(false);
  const { data } = study;
  useEffect(() => {
    if (!data) return;
    let gone = false;
    void draftInFormat(id, data.document.format).then((draft) => {
      if (gone) return;
      if (draft) keepDraft(id, draft.version, draft.document);
      if (draft) open(id, draft.version, draft.document, data.problems, "changed");
      else open(id, data.version, filledIn(data.document), data.problems, "saved");
      setOpen(true);
    });
    return () => {
      gone = true;
    };
  }, [data, id]);

  if (study.isError) {
    return (
      <main className="p-10">
        <p role="alert" className="mb-4">
          {study.error.message}
        </p>
        <button type="button" className="font-semibold underline" onClick={() => void navigate("/")}>
          Back to the studies
        </button>
      </main>
    );
  }
  return isOpen && study.data ? <OpenStudy /> : null;
}

/** What was typed but not saved, in the present format: a draft may be older than the program. */
async function draftInFormat(id: number, format: number | undefined) {
  const draft = await unsavedDraft(id);
  if (!draft || draft.document.format === format) return draft;
  const { data } = await api.POST("/api/documents", { body: draft.document });
  return data ? { ...draft, document: filledIn(data as unknown as Schemas["StudyDocument"]) } : null;
}

/** Opens what a link points at: "?at=steps/counter/line" shows the step and the field. */
function useLinkedPlace(): void {
  const [search, setSearch] = useSearchParams();
  const at = search.get("at");
  useEffect(() => {
    if (!at) return;
    select(partAt(at), at);
    setSearch({}, { replace: true });
  }, [at, setSearch]);
}

function OpenStudy() {
  useAutosave();
  useLinkedPlace();
  usePulseBeat();
  const navigate = useNavigate();
  const id = useStudy((state) => state.id);
  const start = useStartRun();
  const onGo = useCallback((stage: string) => void navigate(`/studies/${id}/${stage}`), [navigate, id]);
  const { mutate: run } = start;
  const onRun = useCallback(() => run(null), [run]);
  const keys = useShortcuts({ onGo, onRun });
  const name = useStudy((state) => state.document.name);
  useEffect(() => {
    document.title = `${name} – Urban Queue`;
    return () => {
      document.title = "Urban Queue";
    };
  }, [name]);
  return (
    <div className="flex h-full flex-col print:block print:h-auto">
      <TopBar start={start} onFind={() => keys.setPalette(true)} />
      <div className="flex min-h-0 flex-1 print:block">
        <Rail />
        <div className="flex min-w-0 flex-1 flex-col print:block">
          <div className="min-h-0 flex-1">
            <Outlet />
          </div>
          <PulseStrip />
        </div>
      </div>
      <Palette open={keys.palette} onClose={() => keys.setPalette(false)} onRun={onRun} onKeys={() => keys.setHelp(true)} />
      <Shortcuts open={keys.help} onClose={() => keys.setHelp(false)} />
      <ConflictDialog />
    </div>
  );
}
