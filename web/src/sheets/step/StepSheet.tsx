import { FlagAt } from "../../fields/ChoiceAt";
import { DistributionAt } from "../../fields/DistributionAt";
import { Folded, Optional } from "../../fields/Optional";
import { BackToStudy, PartTitle } from "../../fields/PartTitle";
import { NumberAt } from "../../fields/ValueAt";
import { within } from "../../study/document/addresses";
import { passing } from "../../study/document/flow";
import { KIND_WORDS } from "../../study/document/kinds";
import { addressOf, idsOf, nameOf, type Selection } from "../../study/document/parts";
import type { Step, StudyDocument } from "../../study/document/types";
import { branchHere, copyHere, deleteHere, insertHere, insertItems, turnItems } from "../../study/session/commands";
import { selectAlso, useStudy } from "../../study/session/store";
import { LINK_BUTTON, Menu } from "../../ui/Menu";
import { Section } from "../../ui/Section";
import { ForkSection, GatherSection, SignalSection, TraitsSection } from "./KindSections";
import { LineSection } from "./LineSection";
import { NeedsSection } from "./NeedsSection";
import { WaysSection } from "./WaysSection";
import { WhereSection } from "./WhereSection";
import { WorkSection } from "./WorkSection";

/**
 * A step as sentences: what it takes, who it needs, how waiting works, where cases go then.
 * Several steps at once, where several are selected.
 */
export function StepSheet({ selection }: { selection: NonNullable<Selection> }) {
  const study = useStudy((state) => state.document);
  const ids = idsOf(selection);
  const steps = study.steps.filter((step) => ids.includes(step.id));
  const step = steps[0];
  if (!step) return null;
  const at = addressOf(selection);
  const kind = steps.every((each) => each.kind === step.kind) ? step.kind : null;
  return (
    <>
      {steps.length > 1 ? (
        <SeveralTitle study={study} ids={ids} />
      ) : (
        <PartTitle
          at={at}
          kind={KIND_WORDS[step.kind].title}
          below={["needs", "line", "next", "clears", "lets_go", "open", "join", "traits"]}
        />
      )}
      {kind && <WhatItDoes study={study} step={{ ...step, kind } as Step} at={at} several={steps.length > 1} />}
      {!kind && <p className="border-t border-rule py-2.5 text-ink-2">They are of different kinds. What all steps have is below.</p>}
      {kind && kind !== "exit" && steps.length === 1 && <WaysSection study={study} step={step} at={at} />}
      <WhereSection study={study} at={at} kind={kind ?? "choose"} />
      <div className="flex flex-wrap gap-x-5 gap-y-2 border-t border-rule pt-3">
        {steps.length === 1 && step.kind !== "exit" && (
          <>
            <Menu trigger="Insert after" items={insertItems(insertHere, "N")} />
            <Menu trigger="Part ways" items={insertItems(branchHere, "B", true)} />
          </>
        )}
        <Menu
          trigger="More"
          items={[
            ...(steps.length === 1 ? turnItems(step) : []),
            { label: "Copy", hint: "Ctrl C", onChoose: copyHere },
            { label: "Delete, close the gap", hint: "Delete", onChoose: deleteHere, wrong: true },
          ]}
        />
      </div>
    </>
  );
}

function SeveralTitle({ study, ids }: { study: StudyDocument; ids: string[] }) {
  return (
    <header className="pb-3">
      <BackToStudy>Edited together</BackToStudy>
      <h2 className="text-xl font-bold">{ids.length} steps</h2>
      <ul className="mt-1 flex flex-wrap gap-x-3 text-sm">
        {ids.map((id) => (
          <li key={id}>
            <button type="button" className={LINK_BUTTON} title="Take out of the selection" onClick={() => selectAlso(id)}>
              {nameOf(study, "step", id)}
            </button>
          </li>
        ))}
      </ul>
    </header>
  );
}

interface WhatItDoesProps {
  study: StudyDocument;
  step: Step;
  at: string;
  several: boolean;
}

function WhatItDoes({ study, step, at, several }: WhatItDoesProps) {
  const types = passing(study).steps.get(step.id) ?? [];
  switch (step.kind) {
    case "serve":
      return (
        <>
          <WorkSection study={study} at={within(at, "work")} verb="takes" types={types} />
          <NeedsSection study={study} at={at} />
          {(several || (step.needs ?? []).length > 0) && <LineSection study={study} at={at} />}
          <Folded title="Changing over" holds={[within(at, "changeover"), within(at, "changeover_cost")]}>
            <Optional at={within(at, "changeover")} offer="no time lost between types of case" fresh="2 min">
              <DistributionAt at={within(at, "changeover")} label="Changeover" verb="After a case of another type, they first need" />
            </Optional>
            <p className="leading-8">
              Changing over costs {study.currency ?? "EUR"}{" "}
              <NumberAt at={within(at, "changeover_cost")} label="Cost of changing over" low={0} high={1e9} fallback={0} /> each time.
            </p>
          </Folded>
        </>
      );
    case "delay":
      return <WorkSection study={study} at={within(at, "time")} verb="lasts" types={types} />;
    case "signal":
      return <SignalSection study={study} at={at} />;
    case "fork":
      return <ForkSection at={at} />;
    case "gather":
      return <GatherSection at={at} />;
    case "set":
      return <TraitsSection study={study} step={step} at={at} />;
    case "exit":
      return (
        <Section title="What it means">
          <p className="leading-8">
            Cases that leave here were <FlagAt at={within(at, "abandoned")} label="Outcome" yes="abandoned" no="completed" />.
          </p>
        </Section>
      );
    case "join":
    case "scatter":
    case "choose":
      return null;
  }
}
