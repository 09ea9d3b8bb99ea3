import { useQuery } from "@tanstack/react-query";
import { Pin, PinOff } from "lucide-react";
import { useDeferredValue, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { withInterval } from "../study/values/figures";
import { IconButton } from "../ui/IconButton";
import { Picture } from "../ui/Picture";
import { pin, unpin } from "./board";
import { ReplicationsStrip } from "./ReplicationsStrip";
import type { Shown } from "./shown";

type Found = Schemas["FoundFigure"];
type Column = "name" | "of" | "mean";

/** Every figure of the run, found by its words, each with its interval. */
export function FiguresTable({ shown, first }: { shown: Shown; first: string }) {
  const { run, part } = shown;
  const [opened, setOpened] = useState<string | null>(null);
  const [text, setText] = useState(first);
  const [sorted, setSorted] = useState<{ by: Column; down: boolean } | null>(null);
  const typed = useDeferredValue(text);
  const { scenario, done } = part;
  const found = useQuery({
    queryKey: ["found", run.id, scenario, done, typed],
    placeholderData: (before) => before,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/figures/search", { params: { path: { run_id: run.id }, query: { scenario, text: typed } } })),
  }).data;
  const rows = sorted && found ? found.toSorted((one, other) => (sorted.down ? -1 : 1) * order(one, other, sorted.by)) : (found ?? []);
  const turn = (by: Column) => setSorted({ by, down: sorted?.by === by && !sorted.down });
  const head = (by: Column, words: string, right = false) => (
    <th
      scope="col"
      aria-sort={sorted?.by === by ? (sorted.down ? "descending" : "ascending") : "none"}
      className={`py-1 font-normal ${right ? "pl-3 text-right" : "text-left"}`}
    >
      <button type="button" className="hover:text-ink" onClick={() => turn(by)}>
        {words}
        {sorted?.by === by && (sorted.down ? " ↓" : " ↑")}
      </button>
    </th>
  );
  return (
    <Picture title="All figures" aside={found && `${found.length} found`} table={() => tableOf(rows)} isDrawn={false}>
      <input
        type="search"
        aria-label="Words of figures"
        placeholder="such as: counter wait, clerks at work, within 5 min"
        className="mb-2 w-full rounded-md border border-rule bg-sheet px-2.5 py-1.5"
        value={text}
        onChange={({ target }) => setText(target.value)}
      />
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr className="border-b border-ink">
            {head("name", "Figure")}
            {head("of", "Of it")}
            {head("mean", "Mean", true)}
            <th className="py-1 pl-3 text-right font-normal">between</th>
            <th className="w-8">
              <span className="sr-only">On the board</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <FoundRow
              key={row.address}
              row={row}
              shown={shown}
              isOpen={opened === row.address}
              onOpen={() => setOpened(opened === row.address ? null : row.address)}
            />
          ))}
        </tbody>
      </table>
      {found?.length === 0 && <p className="py-2 text-ink-2">No figure has all these words.</p>}
    </Picture>
  );
}

interface FoundRowProps {
  row: Found;
  shown: Shown;
  isOpen: boolean;
  onOpen: () => void;
}

/** A figure, and its replications one by one where they are asked for. */
function FoundRow({ row: { address, title, figure }, shown, isOpen, onOpen }: FoundRowProps) {
  const hasPoints = figure.n > 1 && !address.includes("/within:");
  return (
    <>
      <tr className="border-b border-rule" data-figure={address}>
        <th scope="row" className="py-1 text-left font-normal" title={address}>
          {hasPoints ? (
            <button type="button" className="text-left hover:underline" aria-expanded={isOpen} onClick={onOpen}>
              {title.name}
            </button>
          ) : (
            title.name
          )}
        </th>
        <td className="py-1 text-sm text-ink-2">{title.of}</td>
        <Amounts title={title} figure={figure} />
        <td className="py-1 text-right">
          <PinMark address={address} name={`${title.name}, ${title.of}`} />
        </td>
      </tr>
      {isOpen && (
        <tr className="border-b border-rule">
          <td colSpan={5}>
            <ReplicationsStrip shown={shown} address={address} title={title} figure={figure} />
          </td>
        </tr>
      )}
    </>
  );
}

/** Pins a figure to the board of the study, or takes it off. */
function PinMark({ address, name }: { address: string; name: string }) {
  const isPinned = useStudy((state) => state.document.board?.includes(address) ?? false);
  return isPinned ? (
    <IconButton label={`Take off the board: ${name}`} icon={PinOff} onClick={() => unpin(address, name)} />
  ) : (
    <IconButton label={`Pin: ${name}`} icon={Pin} onClick={() => pin(address, name)} />
  );
}

function Amounts({ title, figure }: { title: Schemas["Title"]; figure: Schemas["Estimate"] }) {
  const factor = title.unit === "share" ? 100 : 1;
  const { mean, half } = withInterval(figure, factor);
  const ends = [figure.low, figure.high].map((end) =>
    end == null ? "" : (end * factor).toLocaleString("en", { maximumSignificantDigits: 4 }),
  );
  return (
    <>
      <td className="py-1 pl-3 text-right whitespace-nowrap">
        <b>{mean}</b> <span className="text-sm text-ink-2">{half}</span>
      </td>
      <td className="py-1 pl-3 text-right text-sm whitespace-nowrap text-ink-2">{ends[0] && `${ends[0]} and ${ends[1]}`}</td>
    </>
  );
}

function order(one: Found, other: Found, by: Column): number {
  if (by === "mean") return (one.figure.mean ?? 0) - (other.figure.mean ?? 0);
  return one.title[by].localeCompare(other.title[by]);
}

function tableOf(rows: Found[]) {
  return {
    head: ["Figure", "of it", "mean", "half-width", "low", "high", "replications", "address"],
    rows: rows.map(({ address, title, figure }) => [
      title.name,
      title.of,
      figure.mean,
      figure.half_width,
      figure.low,
      figure.high,
      figure.n,
      address,
    ]),
  };
}
