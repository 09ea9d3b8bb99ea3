import { useState } from "react";
import type { Schemas } from "../api/client";
import { CostLines } from "../charts/CostLines";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import type { FigureOf } from "../study/values/figures";
import { CoursePicture } from "./CoursePicture";
import { FiguresTable } from "./FiguresTable";
import { GroupsView } from "./GroupsView";
import { HourView } from "./HourView";
import { MinutesPicture } from "./MinutesPicture";
import { ObservedView } from "./ObservedView";
import { OneMoreView } from "./OneMoreView";
import { OwnView } from "./OwnView";
import { PeoplePicture } from "./PeoplePicture";
import { RunMap } from "./RunMap";
import { SpreadPicture, SpreadsOfTypes } from "./SpreadPicture";
import { StepsView } from "./StepsView";
import { type Shown, useGroups } from "./shown";
import { WeekPicture } from "./WeekPicture";

export type View =
  | "glance"
  | "map"
  | "steps"
  | "week"
  | "spread"
  | "time"
  | "people"
  | "cost"
  | "counts"
  | "more"
  | "observed"
  | "own"
  | "figures";

export const VIEWS: [View, string][] = [
  ["glance", "At a glance"],
  ["map", "Map"],
  ["steps", "Steps"],
  ["week", "Week"],
  ["spread", "Spread"],
  ["time", "Over time"],
  ["people", "People"],
  ["cost", "Costs"],
  ["counts", "Counts"],
  ["more", "One more"],
  ["observed", "Observed"],
  ["own", "Own figures"],
  ["figures", "All figures"],
];

/** Where a figure stands that is not on the page: hours in the week, those of steps with them, own measures with their parts. */
export function viewOf(address: string): View {
  if (address.includes("/hour:")) return "week";
  if (address.startsWith("measure/")) return "own";
  return /^step\/[^/]+\/(cause:|wait\/(mean|p90)|abandoned$)/.test(address) ? "steps" : "figures";
}

interface ViewedProps {
  shown: Shown;
  study: StudyDocument;
  findings: Schemas["RunFindings"];
  view: View;
  quantity: string | null;
  onQuantity: (quantity: string) => void;
  found: string;
  /** The hour of the week that is looked into; at first the worst. */
  hour: number | null;
  onHour: (hour: number) => void;
}

/** One view of what a run says. */
export function Viewed({ view, shown, study, findings, quantity, onQuantity, found, hour, onHour }: ViewedProps) {
  const [spread, setSpread] = useState<string | null>(null);
  const week = known(findings.weekly, quantity) ?? worstLine(findings) ?? findings.weekly[0]?.quantity ?? "";
  const looked = hour ?? worstHour(findings) ?? FIRST_HOUR;
  const whose = known(findings.spread, spread) ?? known(findings.spread, "type/all/wait") ?? "";
  const figure: FigureOf = (address) => findings.figures[address];
  const types = <MinutesPicture title="Where the minutes go" aside="mean per case" study={study} bars={findings.types} />;
  switch (view) {
    case "glance":
      return (
        <>
          {types}
          <div className="mt-3 grid grid-cols-2 gap-x-8 gap-y-4 max-[1180px]:grid-cols-1">
            <WeekPicture shown={shown} quantities={findings.weekly} quantity={week} onQuantity={onQuantity} onHour={onHour} />
            <SpreadPicture shown={shown} quantities={findings.spread} quantity={whose} onQuantity={setSpread} />
          </div>
        </>
      );
    case "map":
      return <RunMap shown={shown} study={study} figure={figure} />;
    case "steps":
      return <StepsView study={study} shown={shown} />;
    case "week":
      return (
        <>
          <WeekPicture
            shown={shown}
            quantities={findings.weekly}
            quantity={week}
            onQuantity={onQuantity}
            rowHeight={34}
            hour={looked}
            onHour={onHour}
          />
          <HourView shown={shown} study={study} quantity={week} hour={looked} onHour={onHour} />
        </>
      );
    case "spread":
      return (
        <>
          <SpreadPicture shown={shown} quantities={findings.spread} quantity={whose} onQuantity={setSpread} height={300} />
          <SpreadsOfTypes shown={shown} quantities={findings.spread} quantity={whose} />
        </>
      );
    case "time":
      return <CoursePicture shown={shown} settled={findings.settled} />;
    case "cost":
      return (
        <CostLines
          lines={findings.costs}
          teamName={(team) => nameOf(study, "team", team)}
          currency={study.currency ?? "EUR"}
          day={figure("cost/total/per:open-day") ? "per_open_day" : "per_day"}
        />
      );
    case "people":
      return <People shown={shown} study={study} />;
    case "counts":
      return <Counts shown={shown} />;
    case "more":
      return <OneMoreView key={`${shown.run.id} ${shown.part.scenario}`} shown={shown} />;
    case "observed":
      return <ObservedView shown={shown} formulas={findings.formulas} />;
    case "own":
      return <OwnView shown={shown} />;
    case "figures":
      return <FiguresTable key={found} shown={shown} first={found} />;
  }
}

/** What members do through the day, and each one's share. */
function People({ shown, study }: { shown: Shown; study: StudyDocument }) {
  const groups = useGroups(shown);
  return (
    <>
      <PeoplePicture shown={shown} study={study} />
      <div className="h-3" />
      <GroupsView groups={(groups ?? []).filter(({ subject }) => subject === "member")} />
    </>
  );
}

/** Outcomes, streams, ways, spans and deadlines. */
function Counts({ shown }: { shown: Shown }) {
  const groups = useGroups(shown);
  return <GroupsView groups={(groups ?? []).filter(({ subject }) => subject !== "member")} />;
}

const known = (quantities: Schemas["Quantity"][], wanted: string | null) => quantities.find((each) => each.quantity === wanted)?.quantity;

/** Monday from nine on. */
const FIRST_HOUR = 9;

/** The hour of which a sentence tells. */
function worstHour({ sentences }: Schemas["RunFindings"]): number | null {
  const told = sentences.flatMap(({ sentence }) => sentence.flatMap(({ address }) => address ?? []));
  const found = told.map((address) => /\/hour:(\d+)$/.exec(address)?.[1]).find((each) => each);
  return found === undefined ? null : Number(found);
}

/** What a sentence tells of by the hour, such as the wait where it is worst; else the wait of all cases. */
function worstLine({ weekly, sentences }: Schemas["RunFindings"]): string | undefined {
  const told = sentences.flatMap(({ sentence }) => sentence.flatMap(({ address }) => address ?? []));
  const worst = told.map((address) => /^(.+)\/hour:/.exec(address)?.[1]).find((found) => found);
  return known(weekly, worst ?? "type/all/wait");
}
