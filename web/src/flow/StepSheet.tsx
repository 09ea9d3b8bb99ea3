import { edit, problemsOf, useStudy } from "../study/store";
import type { AddedKind } from "../study/edits";
import type { Serve, Step, StepKind, StudyDocument } from "../study/types";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { NeedsSection } from "./NeedsSection";
import { SheetTitle } from "./SheetTitle";
import { branchHere, deleteHere, insertHere } from "./useMapKeys";
import { WaysSection } from "./WaysSection";
import { WorkSection } from "./WorkSection";

const KIND_TITLES: Record<StepKind, string> = {
  serve: "Step",
  delay: "Delay",
  hold: "Hold",
  choose: "Parting of ways",
  fork: "Fork",
  join: "Join",
  gather: "Gathering",
  scatter: "Scattering",
  set: "Trait set",
  exit: "Exit",
};

const EDITED_KINDS: StepKind[] = ["serve", "delay", "choose", "exit"];

function change(id: string, what: string, act: (step: Step, study: StudyDocument) => void): void {
  edit(what, (study) => {
    const step = study.steps.find((each) => each.id === id);
    if (step) act(step, study);
  });
}

/** A step as sentences: what it takes, who it needs, how waiting works, where cases go then. */
export function StepSheet({ id }: { id: string }) {
  const { document: study, problems } = useStudy();
  const step = study.steps.find((each) => each.id === id);
  if (!step) return null;
  const mine = problemsOf(problems, "steps", id);
  const about = (...keys: string[]) => mine.filter((problem) => keys.some((key) => problem.where.startsWith(`steps/${id}/${key}`)));
  const placed = new Set(about("needs", "next"));
  return (
    <>
      <SheetTitle
        kind={KIND_TITLES[step.kind]}
        name={step.name}
        problems={mine.filter((problem) => !placed.has(problem))}
        onRename={(name) => change(id, `Rename to ${name}`, (draft) => void (draft.name = name))}
      />
      {step.kind === "serve" && (
        <>
          <WorkSection study={study} stepId={id} verb="takes" work={step.work} onChange={(work, what) => change(id, `${step.name}: ${what}`, (draft) => draft.kind === "serve" && (draft.work = work))} />
          <NeedsSection study={study} step={step} problems={about("needs")} />
          {(step.needs ?? []).length > 0 && (
            <Section title="How they wait">
              <p>{waitsPlainly(step) ? "First come, first served, in a line of any length." : "By rules of its own, which are kept as they stand in the study file."}</p>
            </Section>
          )}
        </>
      )}
      {step.kind === "delay" && (
        <WorkSection study={study} stepId={id} verb="lasts" work={step.time} onChange={(time, what) => change(id, `${step.name}: ${what}`, (draft) => draft.kind === "delay" && (draft.time = time))} />
      )}
      {!EDITED_KINDS.includes(step.kind) && (
        <Section title="What it does">
          <p>Its settings are kept as they stand in the study file. Its name and its ways can be changed here.</p>
        </Section>
      )}
      {step.kind === "exit" ? (
        <Section title="What it means">
          <p className="leading-8">
            Cases that leave here were{" "}
            <Choice
              label="Outcome"
              value={step.abandoned ? "abandoned" : "completed"}
              options={[
                { value: "completed", label: "completed" },
                { value: "abandoned", label: "abandoned" },
              ]}
              onChoose={(outcome) =>
                change(id, `${step.name}: ${outcome}`, (draft) => {
                  if (draft.kind !== "exit") return;
                  if (outcome === "abandoned") draft.abandoned = true;
                  else delete draft.abandoned;
                })
              }
            />
            .
          </p>
        </Section>
      ) : (
        <WaysSection study={study} step={step} problems={about("next")} />
      )}
      <div className="flex gap-5 border-t border-rule pt-3">
        {step.kind !== "exit" && (
          <>
            <Menu trigger="Insert after" items={kindItems(insertHere, "N")} />
            <Menu trigger="Part ways" items={[...kindItems(branchHere, "B"), { label: "To an exit", onChoose: () => branchHere("exit") }]} />
          </>
        )}
        <button type="button" className={LINK_BUTTON} onClick={deleteHere}>
          Delete
        </button>
      </div>
    </>
  );
}

/** Whether a step's line is the plain one. */
function waitsPlainly(step: Serve): boolean {
  const { discipline = "first-come", ...rest } = step.line ?? {};
  return discipline === "first-come" && Object.values(rest).every((value) => value === null || value === undefined || value === "block");
}

export function kindItems(act: (kind: AddedKind) => void, key: string) {
  return [
    { label: "A step with work", hint: key, onChoose: () => act("serve") },
    { label: "A delay", onChoose: () => act("delay") },
    { label: "A parting of ways", onChoose: () => act("choose") },
  ];
}
