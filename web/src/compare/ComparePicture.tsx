import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useRef } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { SaveMenu } from "../ui/Picture";
import { HeatMap } from "./HeatMap";
import { ResponseChart } from "./ResponseChart";
import { SpreadChart } from "./SpreadChart";
import { TradeOffChart } from "./TradeOffChart";
import { WeekOfDifferences } from "./WeekOfDifferences";

/** What of a comparison is drawn. */
export type Picture = "trade-off" | "lever" | "two levers" | "spread" | "week";

/** What is asked about in a picture: measures across and up, levers. */
export interface Drawn {
  across?: string;
  up?: string;
  lever?: string[];
}

interface ComparePictureProps {
  comparison: Schemas["Comparison"];
  picture: Picture;
  onPicture: (picture: Picture) => void;
  /** Which column is asked about; the first stands for the baseline. */
  chosen: number;
  onChoose: (column: number) => void;
  onDraw: (drawn: Drawn) => void;
}

type PartProps = Omit<ComparePictureProps, "picture" | "onPicture">;

/** One picture of the comparison, and the choice which. */
export function ComparePicture({ picture, onPicture, ...part }: ComparePictureProps) {
  const { levers } = part.comparison;
  const options: { value: Picture; label: string }[] = [
    { value: "trade-off", label: "What it buys" },
    ...(levers.length > 0 ? [{ value: "lever" as const, label: "How it answers to a lever" }] : []),
    ...(levers.length > 1 ? [{ value: "two levers" as const, label: "By two levers" }] : []),
    { value: "spread", label: "How it spreads" },
    { value: "week", label: "By the hour of the week" },
  ];
  const shown = options.some(({ value }) => value === picture) ? picture : "trade-off";
  const choose = (value: string) => onPicture(value as Picture);
  const drawn = useRef<HTMLElement>(null);
  const title = options.find(({ value }) => value === shown)?.label ?? "";
  return (
    <section ref={drawn} aria-label="Picture">
      <div className="flex items-baseline justify-between">
        <Choice quiet label="What is drawn" value={shown} options={options} onChoose={choose} />
        <SaveMenu title={title} table={() => tableOf(part.comparison)} drawn={drawn} />
      </div>
      {shown === "trade-off" && <TradeOff {...part} />}
      {shown === "lever" && <Response {...part} />}
      {shown === "two levers" && <TwoLevers {...part} />}
      {(shown === "spread" || shown === "week") && <OfPair {...part} picture={shown} />}
    </section>
  );
}

const Heading = ({ children }: { children: ReactNode }) => <h2 className="pb-1 text-base leading-8 font-bold">{children}</h2>;
const Note = ({ children }: { children: ReactNode }) => <p className="mb-3 text-sm text-ink-2">{children}</p>;

interface MeasureChoiceProps {
  rows: Schemas["MeasureRow"][];
  label: string;
  value: string;
  onChoose: (address: string) => void;
}

function MeasureChoice({ rows, label, value, onChoose }: MeasureChoiceProps) {
  const options = rows.map(({ address, title }) => ({ value: address, label: `${title.name}, ${title.of}` }));
  return <Choice label={label} value={value} options={options} onChoose={onChoose} />;
}

/** The row of a measure, or the first where it is not shown. */
const rowOf = ({ rows }: Schemas["Comparison"], address: string) => rows.find((row) => row.address === address) ?? rows[0];

function TradeOff({ comparison, onDraw }: PartProps) {
  const { rows, trade_off } = comparison;
  const drawUp = (address: string) => onDraw({ up: address });
  const [across, up] = [rowOf(comparison, trade_off.across), rowOf(comparison, trade_off.up)];
  if (!across || !up) return null;
  return (
    <>
      <Heading>
        <MeasureChoice rows={rows} label="Measure upwards" value={up.address} onChoose={drawUp} /> against{" "}
        <MeasureChoice rows={rows} label="Measure across" value={across.address} onChoose={(address) => onDraw({ across: address })} />
      </Heading>
      <TradeOffChart comparison={comparison} across={across} up={up} />
      <Note>Filled and joined: no other scenario is better in both.</Note>
    </>
  );
}

interface LeverChoiceProps {
  levers: Schemas["MovedLever"][];
  label: string;
  value: string;
  onChoose: (lever: string) => void;
}

function LeverChoice({ levers, label, value, onChoose }: LeverChoiceProps) {
  return <Choice label={label} value={value} options={levers.map(({ id, name }) => ({ value: id, label: name }))} onChoose={onChoose} />;
}

function Response({ comparison, onDraw }: PartProps) {
  const { rows, levers, families, by } = comparison;
  const [up, lever] = [rowOf(comparison, comparison.trade_off.up), levers.find(({ id }) => id === by[0])];
  if (!up || !lever) return null;
  return (
    <>
      <Heading>
        <MeasureChoice rows={rows} label="Measure" value={up.address} onChoose={(address) => onDraw({ up: address })} /> over{" "}
        <LeverChoice levers={levers} label="Lever" value={lever.id} onChoose={(id) => onDraw({ lever: [id] })} />
      </Heading>
      {by.length === 1 && families.length > 0 ? (
        <>
          <ResponseChart lever={lever} families={families} row={up} />
          <Note>With the interval of each. Scenarios on one line differ in this lever and in nothing else.</Note>
        </>
      ) : (
        <Note>No two of these scenarios differ in this lever alone.</Note>
      )}
    </>
  );
}

function TwoLevers({ comparison, onChoose, onDraw }: PartProps) {
  const { rows, levers, families, by } = comparison;
  const up = rowOf(comparison, comparison.trade_off.up);
  const [across, down] = by.map((id) => levers.find((lever) => lever.id === id));
  const turnAcross = (id: string) => onDraw({ lever: [id, other(by, 1, id)] });
  const turnDown = (id: string) => onDraw({ lever: [other(by, 0, id), id] });
  if (!up || !across || !down) return null;
  const [family] = families;
  return (
    <>
      <Heading>
        <MeasureChoice rows={rows} label="Measure" value={up.address} onChoose={(address) => onDraw({ up: address })} /> by{" "}
        <LeverChoice levers={levers} label="Lever across" value={across.id} onChoose={turnAcross} /> and{" "}
        <LeverChoice levers={levers} label="Lever down" value={down.id} onChoose={turnDown} />
      </Heading>
      {family ? (
        <>
          <HeatMap across={across} down={down} family={family} row={up} onChoose={onChoose} />
          <Note>The darker, the higher. These scenarios differ in the two levers and in nothing else.</Note>
        </>
      ) : (
        <Note>No two of these scenarios differ in these levers alone.</Note>
      )}
    </>
  );
}

/** The lever that stays when another is chosen in the other direction: where both would be the same, they change places. */
const other = (by: string[], place: 0 | 1, chosen: string) => (by[place] === chosen ? by[1 - place] : by[place]) ?? chosen;

function OfPair({ comparison, chosen, onDraw, picture }: PartProps & { picture: "spread" | "week" }) {
  const study = useStudy((state) => state.id);
  const up = rowOf(comparison, comparison.trade_off.up);
  const [first, column] = [comparison.columns[0], comparison.columns[chosen] ?? comparison.columns[1]];
  const keys = [first, column].map((each) => `${each?.run}:${each?.scenario}`) as [string, string];
  const address = up?.address ?? "";
  const pair = useQuery({
    queryKey: ["pair", study, keys, address, first?.done, column?.done],
    enabled: first !== undefined && column !== undefined && column !== first,
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.GET("/api/studies/{study_id}/comparison/pair", {
          params: { path: { study_id: study }, query: { first: keys[0], other: keys[1], address } },
        }),
      ),
  }).data;
  if (!up || !first || !column || column === first) return <Note>Choose a scenario by its name above the table.</Note>;
  return (
    <>
      <Heading>
        {picture === "spread" ? (
          <MeasureChoice rows={comparison.rows} label="Measure" value={address} onChoose={(chosen) => onDraw({ up: chosen })} />
        ) : (
          `“${column.name}” by the hour`
        )}
      </Heading>
      {pair && picture === "spread" && pair.distributions && (
        <SpreadChart distributions={pair.distributions} title={up.title} names={[first.name, column.name]} />
      )}
      {pair && picture === "spread" && !pair.distributions && <Note>One of the two does not have this measure.</Note>}
      {pair && picture === "week" && <WeekOfDifferences week={pair.week} />}
    </>
  );
}

/** The measures side by side, as numbers. */
function tableOf({ columns, rows }: Schemas["Comparison"]) {
  return {
    head: ["Measure", "of it", ...columns.flatMap(({ name }) => [name, `± ${name}`])],
    rows: rows.map(({ title, cells }) => [
      title.name,
      title.of,
      ...cells.flatMap(({ figure }) => [figure?.mean ?? null, figure?.half_width ?? null]),
    ]),
  };
}
