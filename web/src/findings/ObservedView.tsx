import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { api, ask, type Schemas } from "../api/client";
import { FigurePicker } from "../fields/FigurePicker";
import { keptValue, readValue, shownValue, suffixOf } from "../fields/figureValue";
import { edit, useStudy } from "../study/session/store";
import { round, withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { Choice } from "../ui/Choice";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON } from "../ui/Menu";
import { Picture } from "../ui/Picture";
import { ValueField } from "../ui/ValueField";
import { PasteObserved } from "./PasteObserved";
import type { Shown } from "./shown";

type Fit = Schemas["Fit"];
type Observed = Schemas["Observed"];

/** What is known of the real service, typed in, beside what the run says: how a model is believed. */
export function ObservedView({ shown, formulas }: { shown: Shown; formulas: Schemas["Formulas"] }) {
  return (
    <>
      <ObservedTable shown={shown} />
      <FormulasTable formulas={formulas} />
    </>
  );
}

/** What formulas say where they come close, and why they cannot say more. */
function FormulasTable({ formulas: { lines, reasons } }: { formulas: Schemas["Formulas"] }) {
  return (
    <Picture
      className="mt-6"
      title="Formulas beside simulated"
      aside="where one comes close"
      table={() => formulasTable(lines)}
      isDrawn={false}
    >
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr className="border-b border-ink">
            <th className="py-1 text-left font-normal">Figure</th>
            <th className="py-1 pl-3 text-right font-normal">by formula</th>
            <th className="py-1 pl-3 text-right font-normal">simulated</th>
            <th className="py-1 pl-3 text-left font-normal">and so it is</th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ address, title, formula, figure, words }) => (
            <tr key={address} className="border-b border-rule">
              <th scope="row" className="py-1 text-left font-semibold">
                {title.name} <span className="text-sm font-normal text-ink-2">{title.of}</span>
              </th>
              <td className="py-1 pl-3 text-right">{round(formula * scaleOf(title).factor)}</td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">
                <Simulated figure={figure} title={title} />
              </td>
              <td className="py-1 pl-3">{words}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {reasons.length > 0 && <p className="mt-1.5 text-sm text-ink-2">No formula tells the waits here. {reasons.join(" ")}</p>}
    </Picture>
  );
}

function formulasTable(lines: Schemas["ByFormula"][]) {
  return {
    head: ["Figure", "of it", "by formula", "simulated", "±", "and so it is"],
    rows: lines.map(({ title, formula, figure, words }) => [title.name, title.of, formula, figure.mean, figure.half_width, words]),
  };
}

function ObservedTable({ shown: { run, part } }: { shown: Shown }) {
  const observed = useStudy((state) => state.document.observed);
  const version = useStudy((state) => state.version);
  const { scenario, done } = part;
  const fits = useQuery({
    queryKey: ["observed", run.id, scenario, done, version],
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/observed", { params: { path: { run_id: run.id }, query: { scenario } } })),
  }).data;
  const rows = (fits ?? []).filter(({ address }) => observed?.some(({ figure }) => figure === address));
  return (
    <Picture title="Observed beside simulated" aside="what is known of the real service" table={() => tableOf(rows)} isDrawn={false}>
      {rows.length > 0 && (
        <table className="w-full">
          <thead className="text-sm text-ink-2">
            <tr className="border-b border-ink">
              <th className="py-1 text-left font-normal">Figure</th>
              <th className="py-1 pl-3 text-left font-normal">observed</th>
              <th className="py-1 pl-3 text-left font-normal">from where</th>
              <th className="py-1 pl-3 text-right font-normal">simulated</th>
              <th className="py-1 pl-3 text-left font-normal">and so it</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {rows.map((fit) => (
              <ObservedRow key={fit.address} fit={fit} observed={observed?.find(({ figure }) => figure === fit.address)} />
            ))}
          </tbody>
        </table>
      )}
      {rows.length === 0 && (
        <p className="py-1 text-ink-2">
          Type what was counted or measured in the real service: how many cases came, how long they waited, how busy a team was. Each figure
          is then told to fit or not.
        </p>
      )}
      <div className="flex gap-x-6 pt-3">
        <FigurePicker label="Add what was observed" trigger="Add what was observed" className={LINK_BUTTON} onPick={add} />
        <PasteObserved />
      </div>
    </Picture>
  );
}

/** Adds a figure with a value to begin with; one that is there stays as it is. */
function add({ address, title }: Schemas["Found"]): void {
  edit(`Observed: ${title.name}`, (study) => {
    if (study.observed?.some(({ figure }) => figure === address)) return;
    study.observed = [...(study.observed ?? []), { figure: address, value: title.unit === "minutes" ? "10 min" : 1 }];
  });
}

function change(fit: Fit, words: string, act: (observed: Observed) => void): void {
  edit(`Observed ${words}: ${fit.title?.name ?? fit.address}`, (study) => {
    const found = study.observed?.find(({ figure }) => figure === fit.address);
    if (found) act(found);
  });
}

function ObservedRow({ fit, observed }: { fit: Fit; observed: Observed | undefined }) {
  const { title } = fit;
  const drop = () =>
    edit(`Observed no more: ${title?.name ?? fit.address}`, (study) => {
      study.observed = study.observed?.filter(({ figure }) => figure !== fit.address);
    });
  return (
    <tr className="border-b border-rule" data-figure={fit.address}>
      <th scope="row" className="py-1.5 text-left font-semibold">
        {title?.name ?? fit.address}
        <span className="block text-sm font-normal text-ink-2">{title?.of}</span>
      </th>
      <td className="py-1.5 pl-3 leading-9">{title && observed && <Values fit={fit} title={title} observed={observed} />}</td>
      <td className="py-1.5 pl-3">
        <ValueField
          label={`From where: ${title?.name}`}
          value={observed?.source ?? ""}
          placeholder="not said"
          parse={(text) => ({ value: text.trim().slice(0, 400) })}
          onCommit={(source) =>
            change(fit, "from where", (each) => {
              each.source = source;
            })
          }
        />
      </td>
      <td className="py-1.5 pl-3 text-right whitespace-nowrap">{title && <Simulated figure={fit.figure} title={title} />}</td>
      <td className={`py-1.5 pl-3 font-semibold ${fit.fits === false ? "text-wrong" : ""}`}>{fit.words}</td>
      <td className="py-1.5 pl-2">
        <IconButton label={`Take away what was observed: ${title?.name ?? fit.address}`} icon={X} onClick={drop} />
      </td>
    </tr>
  );
}

const RUN = "run";
const PERIODS = [
  { value: RUN, label: "in a replication" },
  { value: "day", label: "a day" },
  { value: "week", label: "a week" },
  { value: "month", label: "a month" },
];

/** The value that was observed, and between which ends it may be, where that is known. */
function Values({ fit, title, observed }: { fit: Fit; title: Schemas["Title"]; observed: Observed }) {
  const field = (label: string, key: "value" | "low" | "high", placeholder?: string) => (
    <ValueField
      label={`${label}: ${title.name}`}
      value={shownValue(observed[key], title)}
      placeholder={placeholder}
      suffix={key === "value" && title.unit !== "count" ? suffixOf(title) : undefined}
      parse={(text) => readValue(text, title)}
      onCommit={(typed) => change(fit, "value", (each) => set(each, key, keptValue(typed, title)))}
    />
  );
  return (
    <>
      {field("Observed", "value")}
      {title.unit === "count" && (
        <Choice
          quiet
          label={`Counted for: ${title.name}`}
          value={observed.per ?? RUN}
          options={PERIODS}
          onChoose={(per) =>
            change(fit, "for how long", (each) => {
              if (per === RUN) delete each.per;
              else each.per = per as NonNullable<Observed["per"]>;
            })
          }
        />
      )}
      <span className="block text-sm text-ink-2">
        between {field("At the least", "low", "5 % less")} and {field("At the most", "high", "5 % more")}
      </span>
    </>
  );
}

/** Sets a value; of two ends both are known or neither is, so the other is at first the value itself. */
function set(observed: Observed, key: "value" | "low" | "high", value: number | string | undefined): void {
  if (key === "value") observed.value = value ?? observed.value;
  else if (value === undefined) {
    delete observed.low;
    delete observed.high;
  } else {
    observed.low ??= observed.value;
    observed.high ??= observed.value;
    observed[key] = value;
  }
}

function Simulated({ figure, title }: { figure: Schemas["Estimate"] | null; title: Schemas["Title"] }) {
  const { mean, half } = withInterval(figure ?? undefined, scaleOf(title).factor);
  return (
    <>
      <b>{mean}</b> <span className="text-sm text-ink-2">{half}</span>
    </>
  );
}

function tableOf(fits: Fit[]) {
  return {
    head: ["Figure", "of it", "observed", "low", "high", "from where", "simulated", "±", "verdict"],
    rows: fits.map(({ title, address, observed, low, high, source, figure, words }) => [
      title?.name ?? address,
      title?.of ?? "",
      observed,
      low,
      high,
      source,
      figure?.mean ?? null,
      figure?.half_width ?? null,
      words,
    ]),
  };
}
