import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import type { Run } from "../api/queries";
import { restoreVersion } from "../study/session/restoring";
import { useStudy } from "../study/session/store";
import { aboutSeconds } from "../study/values/durations";
import { saveFrom } from "../ui/files";
import { LINK_BUTTON, MAIN_BUTTON, Menu, QUIET_BUTTON } from "../ui/Menu";
import { Modal } from "../ui/Modal";
import { numberBetween, ValueField } from "../ui/ValueField";
import { useGoOn, wantedOf } from "./useGoOn";

/** The runs that are over: who, when, what, and what can be done with them. */
export function PastRuns({ runs }: { runs: Run[] }) {
  return (
    <section className="mt-9 max-w-4xl">
      <h2 className="mb-1 text-sm text-ink-2">Runs so far</h2>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>Run</th>
            <th>When</th>
            <th>What</th>
            <th>State</th>
            <th>Findings</th>
            <th>More</th>
          </tr>
        </thead>
        <tbody>
          {runs.map((run) => (
            <PastRun key={run.id} run={run} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Lets the browser save what happened in all replications of a run, packed; it is made while it is sent. */
function saveLog(run: Run, kind: "csv" | "xes"): void {
  saveFrom(`/api/runs/${run.id}/log?kind=${kind}`);
  toast(`The log of ${run.done} replications is being made: each is drawn again.`);
}

function PastRun({ run }: { run: Run }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState<"more" | "name" | "delete" | null>(null);
  const changed = () => {
    setAsking(null);
    void client.invalidateQueries({ queryKey: ["runs", run.study] });
  };
  const goOn = useGoOn();
  const name = useRunAction((body: { name: string; note: string }) =>
    ask(api.PATCH("/api/runs/{run_id}", { params: { path: { run_id: run.id } }, body })),
  );
  const take = useRunAction(() => ask(api.DELETE("/api/runs/{run_id}", { params: { path: { run_id: run.id } } })));
  const restore = useRunAction(() => restoreVersion(run.version));
  const now = useStudy((state) => state.version);
  const called = run.name || `Run ${run.number}`;
  const items = [
    ...(run.can_go_on ? [{ label: run.state === "failed" ? "Try again" : "More replications …", onChoose: () => setAsking("more") }] : []),
    ...(run.version === now
      ? []
      : [
          {
            label: `Restore version ${run.version}`,
            onChoose: () =>
              restore.mutate(undefined, { onSuccess: () => toast(`Version ${run.version} is the study again. Undo takes it back.`) }),
          },
        ]),
    ...(run.done > 0
      ? [
          { label: "Event log as CSV", onChoose: () => saveLog(run, "csv") },
          { label: "Event log as XES", onChoose: () => saveLog(run, "xes") },
        ]
      : []),
    { label: "Name and note …", onChoose: () => setAsking("name") },
    { label: "Delete …", onChoose: () => setAsking("delete"), wrong: true },
  ];
  return (
    <tr className="border-t border-rule align-baseline">
      <td className="py-2 pr-3 font-bold">
        {called}
        {run.note && <span className="block max-w-56 text-sm font-normal text-ink-2">{run.note}</span>}
      </td>
      <td className="pr-3 text-ink-2">
        {new Date(run.created_at).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" })}
        {run.started_by && <span className="block text-sm">{run.started_by}</span>}
      </td>
      <td className="pr-3 text-ink-2">
        {run.parts.length > 1 ? `${run.parts.length} scenarios, ` : ""}
        {run.length} × {run.done === run.replications ? run.each : `${run.done} of ${run.replications}`}, version {run.version}
        {run.parts.length === 1 && run.parts[0]?.scenario && <span className="block text-sm">{run.parts[0].name}</span>}
      </td>
      <td className="pr-3">
        {run.state} <span className="text-ink-2">in {aboutSeconds(run.seconds)}</span>
        <Stored run={run} />
        {run.problem && <span className="block text-sm text-wrong">{run.problem}</span>}
      </td>
      <td className="whitespace-nowrap text-right">
        {run.done > 0 && (
          <Link className={LINK_BUTTON} to={`../findings/${run.id}`} relative="path">
            Findings
          </Link>
        )}
      </td>
      <td className="w-10 text-right">
        <Menu
          trigger={<MoreHorizontal size={17} aria-hidden />}
          label={`More on ${called}`}
          className="rounded p-1 hover:bg-value"
          items={items}
        />
        {asking === "more" && (
          <More
            run={run}
            onCancel={() => setAsking(null)}
            onGo={(replications) => goOn.mutate({ run, replications }, { onSuccess: () => setAsking(null) })}
          />
        )}
        {asking === "name" && (
          <Naming run={run} onCancel={() => setAsking(null)} onName={(body) => name.mutate(body, { onSuccess: changed })} />
        )}
        {asking === "delete" && (
          <Modal open title={`Delete ${called}?`} onClose={() => setAsking(null)}>
            <p className="mb-4">Its figures are taken away for good. The study and its versions stay.</p>
            <button type="button" className={MAIN_BUTTON} onClick={() => take.mutate(undefined, { onSuccess: changed })}>
              Delete it
            </button>
          </Modal>
        )}
      </td>
    </tr>
  );
}

/** How much of a run was read from what had been run before. */
function Stored({ run }: { run: Run }) {
  const stored = run.parts.reduce((sum, part) => sum + part.stored, 0);
  if (stored === 0) return null;
  return (
    <span className="block text-sm text-ink-2">
      {stored >= run.done ? "read from what was stored" : `${stored} of ${run.replications} were stored`}
    </span>
  );
}

function useRunAction<Asked, Answer>(act: (asked: Asked) => Promise<Answer>) {
  return useMutation({ mutationFn: act, onError: (error) => toast.error(error.message) });
}

function More({ run, onCancel, onGo }: { run: Run; onCancel: () => void; onGo: (replications: number) => void }) {
  const wanted = wantedOf(run);
  const [replications, setReplications] = useState(run.state === "failed" ? wanted : wanted + 10);
  return (
    <Modal open title="More replications" onClose={onCancel}>
      <p className="mb-4">
        Go on until each scenario has{" "}
        <ValueField
          label="Replications in all"
          value={String(replications)}
          parse={numberBetween(1, 10_000, true)}
          onCommit={(typed) => setReplications(Number(typed))}
        />{" "}
        replications. Those that are done are kept.
      </p>
      <button type="button" className={MAIN_BUTTON} onClick={() => onGo(replications)}>
        Go on
      </button>
    </Modal>
  );
}

function Naming({ run, onCancel, onName }: { run: Run; onCancel: () => void; onName: (notes: { name: string; note: string }) => void }) {
  const [name, setName] = useState(run.name);
  const [note, setNote] = useState(run.note);
  return (
    <Modal open title={`Run ${run.number}`} onClose={onCancel}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onName({ name, note });
        }}
      >
        <label className="block pb-3">
          <span className="block text-sm text-ink-2">Name</span>
          <input
            className="w-full border-b-2 border-ink bg-value px-2 py-1"
            value={name}
            maxLength={120}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <label className="block pb-4">
          <span className="block text-sm text-ink-2">Note</span>
          <textarea
            className="h-24 w-full border-b-2 border-ink bg-value px-2 py-1"
            value={note}
            maxLength={4000}
            onChange={(e) => setNote(e.target.value)}
          />
        </label>
        <button type="submit" className={MAIN_BUTTON}>
          Keep
        </button>{" "}
        <button type="button" className={QUIET_BUTTON} onClick={onCancel}>
          Cancel
        </button>
      </form>
    </Modal>
  );
}
