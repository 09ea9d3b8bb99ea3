import { useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { addScenario, describeScenario } from "../scenarios/commands";
import type { StudyDocument } from "../study/document/types";
import { edit } from "../study/session/store";
import { withInterval } from "../study/values/figures";
import { LINK_BUTTON, MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { Picture } from "../ui/Picture";
import type { Shown } from "./shown";

type Bought = Schemas["Bought"];
type Row = Schemas["MeasureRow"];

/** Where one more helps: each team and shift with one more, tried one after the other, the one that buys most first. */
export function OneMoreView({ shown }: { shown: Shown }) {
  const { run, part } = shown;
  const { scenario } = part;
  const [upTo, setUpTo] = useState(0);
  const all = useQuery({
    queryKey: ["one-more", run.id, scenario],
    queryFn: () => ask(api.GET("/api/runs/{run_id}/one-more", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
  const tries = useQueries({
    queries: (all ?? []).map(({ id: one }, n) => ({
      queryKey: ["one-more", run.id, scenario, one, part.done],
      enabled: n < upTo,
      staleTime: Number.POSITIVE_INFINITY,
      queryFn: async () => {
        const bought = await ask(
          api.POST("/api/runs/{run_id}/one-more", { params: { path: { run_id: run.id } }, body: { scenario, one } }),
        );
        setUpTo((now) => (now === n + 1 ? n + 2 : now));
        return bought;
      },
    })),
  });
  if (!all) return null;
  const bought = tries.flatMap(({ data }) => data ?? []).toSorted((one, other) => gain(other) - gain(one));
  const isTrying = tries.some(({ isFetching }) => isFetching);
  const failed = tries.find(({ error }) => error)?.error;
  const head = bought[0]?.measures ?? [];
  return (
    <Picture title="Where one more helps" aside={replications(bought)} table={() => tableOf(bought)} isDrawn={false}>
      <p className="mb-2 flex items-center gap-4">
        {isTrying ? (
          <>
            <progress aria-label="Tries" className="accent-ink" max={all.length} value={bought.length} />
            <span>
              {bought.length} of {all.length} tried
            </span>
            <button type="button" className={QUIET_BUTTON} onClick={() => setUpTo(0)}>
              Stop and keep what is done
            </button>
          </>
        ) : bought.length < all.length ? (
          <>
            <button type="button" className={MAIN_BUTTON} onClick={() => setUpTo(bought.length + 1)}>
              Try one more of each
            </button>
            <span className="text-ink-2">Every team and every shift gets one more, each tried with the same cases and the same luck.</span>
          </>
        ) : null}
      </p>
      {failed && <p role="alert">{failed.message}</p>}
      {bought.length > 0 && (
        <table className="w-full">
          <thead className="text-sm text-ink-2">
            <tr className="border-b border-ink align-bottom">
              <th className="py-1 text-left font-normal">With</th>
              {head.map(({ address, title }) => (
                <th key={address} scope="col" className="max-w-40 py-1 pl-3 text-right leading-tight font-normal">
                  {title.name}
                  <br />
                  {title.of}
                </th>
              ))}
              <td />
            </tr>
          </thead>
          <tbody>
            {bought.map(({ one, measures }) => (
              <tr key={one.id} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-semibold">
                  {one.words}
                </th>
                {measures.map((row) => (
                  <td key={row.address} className="py-1.5 pl-3 text-right whitespace-nowrap">
                    <Difference row={row} />
                  </td>
                ))}
                <td className="py-1.5 pl-4 text-right">
                  <button type="button" className={`${LINK_BUTTON} whitespace-nowrap`} onClick={() => makeScenario(one, scenario)}>
                    Make it a scenario
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Picture>
  );
}

/** By how much the first measure gets better. */
const gain = ({ measures }: Bought) => {
  const first = measures[0];
  return (first?.cells[1]?.difference?.mean ?? 0) * (first?.title.better || -1);
};

const replications = (bought: Bought[]) =>
  bought[0] ? `${bought[0].replications} replications each, intervals adjusted for all tries` : "what it buys, against what it costs";

function Difference({ row: { title, cells } }: { row: Row }) {
  const cell = cells[1];
  if (!cell?.difference) return "–";
  const factor = title.unit === "share" ? 100 : 1;
  const { mean, half } = withInterval(cell.difference, factor);
  const sign = (cell.difference.mean ?? 0) > 0 ? "+" : "";
  const look = { better: "text-better", worse: "" }[cell.verdict as string] ?? "text-ink-2";
  return (
    <>
      <b className={look}>
        {sign}
        {mean.replace("-", "−")}
      </b>{" "}
      <span className="text-sm text-ink-2">{half}</span>
      <span className={`block text-xs ${look}`}>{cell.verdict === "worse" && title.unit === "money" ? "more" : cell.verdict}</span>
    </>
  );
}

/** Makes a scenario with one more, from the scenario that was run; the study may have changed since. */
function makeScenario(one: Schemas["OneMore"], from: string): void {
  addScenarioWith(one.words, from || null, (study) => {
    const team = study.teams.find(({ id }) => id === one.team);
    const rows = team?.roster ?? [];
    if (!team || (one.row !== null && !rows[one.row])) return false;
    if (rows.length === 0) team.size = (team.size ?? 1) + 1;
    for (const [place, row] of rows.entries()) if (one.row === null || one.row === place) row.people += 1;
    return true;
  });
}

function addScenarioWith(name: string, from: string | null, change: (study: StudyDocument) => boolean): void {
  const id = addScenario(from);
  describeScenario(id, { name });
  if (edit(name, change)) toast.success(`The scenario “${name}” is made, and shown now.`);
  else toast.error("The study has changed since that run: there is no such team or shift any more. Run it again.");
}

function tableOf(bought: Bought[]) {
  const head = bought[0]?.measures ?? [];
  return {
    head: ["With", ...head.flatMap(({ title }) => [`${title.name}, ${title.of}: difference`, "±", "verdict"])],
    rows: bought.map(({ one, measures }) => [
      one.words,
      ...measures.flatMap(({ cells }) => [
        cells[1]?.difference?.mean ?? null,
        cells[1]?.difference?.half_width ?? null,
        cells[1]?.words ?? "",
      ]),
    ]),
  };
}
