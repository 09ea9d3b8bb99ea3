import { useQuery } from "@tanstack/react-query";
import { Pin, PinOff } from "lucide-react";
import { useDeferredValue, useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { Choice } from "../ui/Choice";
import { fileNameOf, saveFile } from "../ui/files";
import { IconButton } from "../ui/IconButton";
import { Menu } from "../ui/Menu";
import { Picture } from "../ui/Picture";
import { pin, unpin } from "./board";
import { ReplicationsStrip } from "./ReplicationsStrip";
import type { Shown } from "./shown";

type Found = Schemas["FoundFigure"];
type Column = "name" | "of" | "mean";

/** What else can be shown of a figure; what is chosen stays chosen in this browser. */
const OTHERS = [
  { key: "between", words: "between" },
  { key: "half_width", words: "±" },
  { key: "sd", words: "spread" },
  { key: "n", words: "replications" },
  { key: "address", words: "address" },
] as const;
type Other = (typeof OTHERS)[number]["key"];
const CHOSEN = "urban-queue-figure-columns";

function useColumns(): [Other[], (column: Other) => void] {
  const [columns, setColumns] = useState<Other[]>(() => {
    const kept = localStorage.getItem(CHOSEN)?.split(",");
    return kept ? OTHERS.map(({ key }) => key).filter((key) => kept.includes(key)) : ["between"];
  });
  const turn = (column: Other) => {
    const next = OTHERS.map(({ key }) => key).filter((key) => (key === column ? !columns.includes(key) : columns.includes(key)));
    localStorage.setItem(CHOSEN, next.join());
    setColumns(next);
  };
  return [columns, turn];
}

const SUBJECTS = [
  { value: "all", label: "of everything" },
  { value: "type/", label: "of case types" },
  { value: "step/", label: "of steps" },
  { value: "team/", label: "of teams" },
  { value: "cost/", label: "of cost" },
  { value: "outcome/", label: "of outcomes" },
  { value: "stream/", label: "of streams" },
  { value: "measure/", label: "of own measures" },
];

/** Every figure of the run, found by its words, each with its interval. */
export function FiguresTable({ shown, first }: { shown: Shown; first: string }) {
  const { run, part } = shown;
  const [opened, setOpened] = useState<string | null>(null);
  const [text, setText] = useState(first);
  const [sorted, setSorted] = useState<{ by: Column; down: boolean } | null>(null);
  const [columns, turnColumn] = useColumns();
  const [subject, setSubject] = useState("all");
  const typed = useDeferredValue(text);
  const { scenario, done } = part;
  const of = subject === "all" ? undefined : subject;
  const found = useQuery({
    queryKey: ["found", run.id, scenario, done, typed, of],
    placeholderData: (before) => before,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/figures/search", { params: { path: { run_id: run.id }, query: { scenario, text: typed, of } } })),
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
      <div className="mb-2 flex items-baseline gap-x-5">
        <Choice quiet label="Of what" value={subject} options={SUBJECTS} onChoose={setSubject} />
        <Menu
          trigger="Columns"
          className="text-sm text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink"
          items={OTHERS.map(({ key, words }) => ({
            label: words,
            hint: columns.includes(key) ? "shown" : "",
            onChoose: () => turnColumn(key),
          }))}
        />
        <button
          type="button"
          className="text-sm text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink"
          onClick={() => void saveAll(shown)}
        >
          All that this run says as JSON
        </button>
      </div>
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
            {OTHERS.filter(({ key }) => columns.includes(key)).map(({ key, words }) => (
              <th key={key} scope="col" className="py-1 pl-3 text-right font-normal">
                {words}
              </th>
            ))}
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
              columns={columns}
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
  columns: Other[];
  isOpen: boolean;
  onOpen: () => void;
}

/** A figure, and its replications one by one where they are asked for. */
function FoundRow({ row: { address, title, figure }, shown, columns, isOpen, onOpen }: FoundRowProps) {
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
        <Amounts title={title} figure={figure} address={address} columns={columns} />
        <td className="py-1 text-right">
          <PinMark address={address} name={`${title.name}, ${title.of}`} />
        </td>
      </tr>
      {isOpen && (
        <tr className="border-b border-rule">
          <td colSpan={4 + columns.length}>
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

interface AmountsProps {
  title: Schemas["Title"];
  figure: Schemas["Estimate"];
  address: string;
  columns: Other[];
}

function Amounts({ title, figure, address, columns }: AmountsProps) {
  const { factor } = scaleOf(title);
  const { mean, half } = withInterval(figure, factor);
  const digits = (value: number | null) => (value == null ? "" : (value * factor).toLocaleString("en", { maximumSignificantDigits: 4 }));
  const told: Record<Other, string> = {
    between: figure.low == null ? "" : `${digits(figure.low)} and ${digits(figure.high)}`,
    half_width: digits(figure.half_width),
    sd: digits(figure.sd),
    n: String(figure.n),
    address,
  };
  return (
    <>
      <td className="py-1 pl-3 text-right whitespace-nowrap">
        <b>{mean}</b> <span className="text-sm text-ink-2">{half}</span>
      </td>
      {columns.map((column) => (
        <td key={column} className="py-1 pl-3 text-right text-sm whitespace-nowrap text-ink-2">
          {told[column]}
        </td>
      ))}
    </>
  );
}

/** Saves all figures, and what is known by the hour and over time, as one file. */
async function saveAll({ run, part: { scenario, name } }: Shown): Promise<void> {
  try {
    const all = await ask(api.GET("/api/runs/{run_id}/everything", { params: { path: { run_id: run.id }, query: { scenario } } }));
    saveFile(JSON.stringify(all, null, 1), `${fileNameOf(`run ${run.number} ${name}`)}.json`, "application/json");
  } catch (error) {
    toast.error(error instanceof Error ? error.message : String(error));
  }
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
