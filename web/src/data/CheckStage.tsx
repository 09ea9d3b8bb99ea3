import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { type Run, useRuns } from "../api/queries";
import { edit, useStudy } from "../study/session/store";
import { round, withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { Picture } from "../ui/Picture";
import type { Log } from "./logs";
import { WeekBesidePicture } from "./WeekBesidePicture";

type Check = Schemas["LogCheck"];
type Fit = Schemas["Fit"];

const TODAY = "today:";

/** What a log measures beside what a run says: does the model fit? */
export function CheckStage({ log }: { log: Log }) {
  const id = useStudy((state) => state.id);
  const runs = (useRuns(id).data ?? []).filter((run) => run.done > 0);
  const [chosen, setChosen] = useState<number | null>(null);
  const [scenario, setScenario] = useState<string | null>(null);
  const run = runs.find((each) => each.id === chosen) ?? runs[0];
  const parts = run?.parts.filter((part) => part.done > 0) ?? [];
  const part = parts.find((each) => each.scenario === scenario) ?? parts[0];
  const check = useQuery({
    queryKey: ["check", log.id, log.treatment, log.matching, run?.id, part?.scenario, part?.done],
    enabled: part !== undefined,
    queryFn: () =>
      ask(
        api.GET("/api/logs/{log_id}/check", {
          params: { path: { log_id: log.id }, query: { run_id: run?.id ?? 0, scenario: part?.scenario ?? "" } },
        }),
      ),
  });
  if (!run || !part)
    return (
      <p className="pt-4">
        Nothing has been simulated yet.{" "}
        <Link to={`/studies/${id}/run`} className="font-semibold underline">
          Run the study
        </Link>
        , and it stands here beside the log.
      </p>
    );
  return (
    <div className="h-full overflow-y-auto pt-3 pb-6">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <RunOf runs={runs} run={run} onRun={setChosen} />
        {parts.length > 1 && (
          <Choice
            label="Which scenario"
            value={part.scenario || TODAY}
            options={parts.map((each) => ({ value: each.scenario || TODAY, label: each.name }))}
            onChoose={(next) => setScenario(next === TODAY ? "" : next)}
          />
        )}
        {check.data && <Summary fits={check.data.fits} />}
      </div>
      {check.error && <p role="alert">{check.error.message}</p>}
      {check.isPending && <p aria-busy>Putting the log beside the run …</p>}
      {check.data && <Checked log={log} check={check.data} />}
    </div>
  );
}

function RunOf({ runs, run, onRun }: { runs: Run[]; run: Run; onRun: (id: number) => void }) {
  return (
    <Choice
      label="Which run"
      value={String(run.id)}
      options={runs.map((each) => ({ value: String(each.id), label: `${each.name || `Run ${each.number}`}, version ${each.version}` }))}
      onChoose={(next) => onRun(Number(next))}
    />
  );
}

function Summary({ fits }: { fits: Fit[] }) {
  const known = fits.filter((each) => each.fits !== null);
  const many = known.filter((each) => each.fits).length;
  return (
    <p role="status">
      <b>
        {many} of {known.length} figures fit
      </b>
      {many === known.length ? ", as far as chance lets one say." : "; those that do not come first."}
    </p>
  );
}

function Checked({ log, check }: { log: Log; check: Check }) {
  const keep = () => {
    edit(`What ${log.name} measured`, (study) => {
      const others = (study.observed ?? []).filter((each) => !check.observed.some((next) => next.figure === each.figure));
      study.observed = [...others, ...check.observed];
    });
    toast(`${check.observed.length} figures of ${log.name} stand in Findings, under Observed.`);
  };
  return (
    <>
      <WeekBesidePicture weeks={check.weeks} />
      <FitsTable log={log} fits={check.fits} />
      <button type="button" className={`${LINK_BUTTON} mt-3`} onClick={keep}>
        Keep these figures as what is known of the real service
      </button>
    </>
  );
}

/** Those that do not fit first, by how far they are off. */
function inOrder(fits: Fit[]): Fit[] {
  const apart = ({ figure, observed }: Fit) => Math.abs((figure?.mean ?? observed) - observed) / Math.max(Math.abs(observed), 1e-9);
  const rank = ({ fits: does }: Fit) => (does === null ? 2 : does ? 1 : 0);
  return fits.toSorted((one, other) => rank(one) - rank(other) || (rank(one) === 0 ? apart(other) - apart(one) : 0));
}

function FitsTable({ log, fits }: { log: Log; fits: Fit[] }) {
  const table = () => ({
    head: ["Figure", "Of", "Log", "from", "to", "Simulated", "±", "Words"],
    rows: fits.map(({ title, address, observed, low, high, figure, words }) => [
      title?.name ?? address,
      title?.of ?? "",
      observed,
      low,
      high,
      figure?.mean ?? null,
      figure?.half_width ?? null,
      words,
    ]),
  });
  return (
    <Picture className="mt-5" title="Log beside simulated" aside={log.name} table={table} isDrawn={false}>
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr className="border-b border-ink">
            <th className="py-1 text-left font-normal">Figure</th>
            <th className="py-1 pl-3 text-right font-normal">the log says</th>
            <th className="py-1 pl-3 text-left font-normal">between</th>
            <th className="py-1 pl-3 text-right font-normal">simulated</th>
            <th className="py-1 pl-3 text-left font-normal">and so it</th>
          </tr>
        </thead>
        <tbody>
          {inOrder(fits).map((fit) => (
            <FitRow key={fit.address} fit={fit} />
          ))}
        </tbody>
      </table>
    </Picture>
  );
}

function FitRow({ fit }: { fit: Fit }) {
  const factor = fit.title ? scaleOf(fit.title).factor : 1;
  const simulated = withInterval(fit.figure ?? undefined, factor);
  return (
    <tr className="border-b border-rule">
      <th scope="row" className="py-1 text-left font-semibold">
        {fit.title?.name ?? fit.address} <span className="text-sm font-normal text-ink-2">{fit.title?.of}</span>
      </th>
      <td className="py-1 pl-3 text-right tabular-nums">{round(fit.observed * factor)}</td>
      <td className="py-1 pl-3 text-sm whitespace-nowrap text-ink-2 tabular-nums">
        {round(fit.low * factor)} and {round(fit.high * factor)}
      </td>
      <td className="py-1 pl-3 text-right whitespace-nowrap tabular-nums">
        {simulated.mean} <span className="text-sm text-ink-2">{simulated.half}</span>
      </td>
      <td className={`py-1 pl-3 ${fit.fits === false ? "font-semibold text-wrong" : ""}`}>{fit.words}</td>
    </tr>
  );
}
