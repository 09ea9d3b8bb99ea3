import { useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useSearchParams } from "react-router";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import { useStudy } from "../study/session/store";
import { IconButton } from "../ui/IconButton";
import { ProblemNotes } from "../ui/ProblemNotes";
import { BringFile } from "./BringFile";
import { CheckStage } from "./CheckStage";
import { ColumnsStage } from "./ColumnsStage";
import { FlowStage } from "./FlowStage";
import { LookStage } from "./LookStage";
import { isAtWork, type Log, type LogEntry, STAGES, type Stage, useKeepLog, useLog, useLogs } from "./logs";
import { ReadingProgress } from "./ReadingProgress";
import { TakeStage } from "./TakeStage";

/** Logs of the real service: brought, read, looked at, taken from, and held against what was simulated. */
export function DataScreen() {
  const id = useStudy((state) => state.id);
  const logs = useLogs(id);
  const [search, setSearch] = useSearchParams();
  const chosen = logs.data?.find((log) => log.id === Number(search.get("log"))) ?? logs.data?.[0];
  const log = useLog(chosen?.id);
  const keep = useKeepLog(id);
  const show = (next: number, stage?: Stage) => setSearch({ log: String(next), ...(stage && { stage }) });
  const onBrought = async (brought: Log) => {
    await keep(brought);
    show(brought.id);
  };
  if (!logs.data) return <main aria-busy className="p-8" />;
  return (
    <main className="flex h-full min-h-0 flex-col px-6.5 pt-3">
      <h1 className="sr-only">Data</h1>
      {chosen ? (
        <>
          <LogTabs logs={logs.data} chosen={chosen} onShow={show} onBrought={onBrought} />
          {log.data && <OneLog key={log.data.id} log={log.data} onStage={(stage) => show(chosen.id, stage)} />}
        </>
      ) : (
        <BringFile studyId={id} onBrought={onBrought} />
      )}
    </main>
  );
}

interface LogTabsProps {
  logs: LogEntry[];
  chosen: LogEntry;
  onShow: (id: number) => void;
  onBrought: (log: Log) => void;
}

function LogTabs({ logs, chosen, onShow, onBrought }: LogTabsProps) {
  const id = useStudy((state) => state.id);
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
      <div role="tablist" aria-label="Logs" className="flex flex-wrap gap-x-6 gap-y-1">
        {logs.map((log) => (
          <button
            key={log.id}
            type="button"
            role="tab"
            aria-selected={log.id === chosen.id}
            className="border-b-2 border-transparent pb-0.5 text-ink-2
              aria-selected:border-ink aria-selected:font-bold aria-selected:text-ink"
            onClick={() => onShow(log.id)}
          >
            {log.name}
          </button>
        ))}
      </div>
      <BringFile small studyId={id} onBrought={onBrought} />
      <span className="ml-auto">
        <DeleteLog log={chosen} />
      </span>
    </div>
  );
}

function DeleteLog({ log }: { log: LogEntry }) {
  const id = useStudy((state) => state.id);
  const client = useQueryClient();
  const remove = () =>
    void ask(api.DELETE("/api/logs/{log_id}", { params: { path: { log_id: log.id } } }))
      .then(() => client.invalidateQueries({ queryKey: ["logs", id] }))
      .then(() => toast(`${log.name} is deleted. What was taken from it stays in the study.`))
      .catch((error: Error) => toast.error(error.message));
  const confirm = () =>
    toast(`Delete ${log.name} and all that was read of it?`, { duration: 10000, action: { label: "Delete", onClick: remove } });
  return <IconButton label={`Delete ${log.name}`} icon={Trash2} onClick={confirm} />;
}

/** The stage that is open: as asked for, else where the log stands. */
function stageOf(log: Log, asked: string | null): Stage {
  if (log.state !== "read") return "columns";
  return STAGES.find(({ id }) => id === asked)?.id ?? "look";
}

function OneLog({ log, onStage }: { log: Log; onStage: (stage: Stage) => void }) {
  const [search] = useSearchParams();
  const stage = stageOf(log, search.get("stage"));
  return (
    <>
      <nav aria-label="Steps from a log to a study" className="mt-2 flex flex-wrap gap-x-5 border-b border-rule pb-1.5 text-sm">
        {STAGES.map(({ id, name }, n) => (
          <button
            key={id}
            type="button"
            aria-current={stage === id ? "step" : undefined}
            disabled={id !== "columns" && log.state !== "read"}
            className="border-b-2 border-transparent pb-0.5 text-ink-2 disabled:opacity-45
              aria-[current=step]:border-ink aria-[current=step]:font-bold aria-[current=step]:text-ink"
            onClick={() => onStage(id)}
          >
            {n + 1}. {name}
          </button>
        ))}
      </nav>
      <div className="min-h-0 flex-1">
        <ProblemNotes problems={log.problems} />
        {isAtWork(log) ? <ReadingProgress log={log} /> : <StageOf log={log} stage={stage} onStage={onStage} />}
      </div>
    </>
  );
}

function StageOf({ log, stage, onStage }: { log: Log; stage: Stage; onStage: (stage: Stage) => void }) {
  switch (stage) {
    case "columns":
      return <ColumnsStage log={log} onRead={() => onStage("look")} />;
    case "look":
      return <LookStage log={log} />;
    case "flow":
      return <FlowStage log={log} />;
    case "take":
      return <TakeStage log={log} />;
    case "check":
      return <CheckStage log={log} />;
  }
}
