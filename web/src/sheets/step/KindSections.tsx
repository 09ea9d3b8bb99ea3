import type { Schemas } from "../../api/client";
import { RefAt } from "../../fields/ChoiceAt";
import { Optional, TakeAway } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { TraitValueAt, withoutUsed } from "../../fields/TraitValueAt";
import { useField, write } from "../../fields/useField";
import { DurationAt, NumberAt, TimeAt } from "../../fields/ValueAt";
import { type At, setAt, valueAt, within } from "../../study/document/addresses";
import { nameOf } from "../../study/document/parts";
import type { Step, StudyDocument } from "../../study/document/types";
import { edit, useStudy } from "../../study/session/store";
import { Choice } from "../../ui/Choice";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";

type Clears = Schemas["Clears"];

const WAYS_TO_CLEAR: Record<string, Clears> = {
  every: { every: "15 min" },
  at: { at: ["12:00"] },
  waiting: { waiting: 4 },
};

/** When a signal clears, and how many then go on. */
export function SignalSection({ study, at }: { study: StudyDocument; at: At }) {
  const clears = within(at, "clears");
  const field = useField<Clears>(clears);
  const form = field.value ? (Object.keys(field.value).find((key) => key !== "first" && key !== "also") ?? "every") : "open";
  const others = study.steps.filter((step) => step.kind === "serve" || step.kind === "delay");
  const choose = (next: string) => {
    if (next === "open") field.clear();
    else if (next === "message") edit("When it clears", (study) => waitForMessage(study, at, others[0]?.id ?? ""));
    else field.set(next === "after_step" ? { after_step: others[0]?.id ?? "" } : (WAYS_TO_CLEAR[next] ?? {}));
  };
  const times = field.value?.at ?? [];
  return (
    <Section title="When it clears">
      <div className="space-y-1 leading-[1.9rem]">
        <Choice
          at={clears}
          label="When it clears"
          value={form}
          options={[
            { value: "open", label: "while it is open" },
            { value: "every", label: "every so often" },
            { value: "at", label: "at given times" },
            { value: "after_step", label: "when another step ends" },
            { value: "waiting", label: "when so many wait" },
            { value: "message", label: "by a message about the case" },
          ]}
          onChoose={choose}
        />
        {form === "open" && (
          <p>
            opening hours: <RefAt at={within(at, "open")} label="Opening hours" kind="calendar" none="none yet" />
          </p>
        )}
        {form === "every" && (
          <>
            every <DurationAt at={within(clears, "every")} label="Time between clearings" />
            <Optional at={within(clears, "first")} offer="the first after the same time" fresh="5 min">
              the first after <DurationAt at={within(clears, "first")} label="Clears first after" />
            </Optional>
          </>
        )}
        {form === "at" && (
          <div>
            at{" "}
            {times.map((time, n) => (
              <span key={`${time} ${n}`} className="mr-2 inline-flex items-center">
                <TimeAt at={within(clears, "at", n)} label={`Clears at ${n + 1}`} />
                {times.length > 1 && (
                  <TakeAway
                    at={within(clears, "at", n)}
                    label={`Not at ${time}`}
                    onClick={() => write(within(clears, "at"), times.toSpliced(n, 1))}
                  />
                )}
              </span>
            ))}
            <button type="button" className={LINK_BUTTON} onClick={() => write(within(clears, "at"), [...times, times.at(-1) ?? "12:00"])}>
              One more
            </button>
          </div>
        )}
        {form === "after_step" && (
          <p>
            whenever a case leaves <RefAt at={within(clears, "after_step")} label="Clears after step" kind="step" />
          </p>
        )}
        {form === "waiting" && (
          <p>
            as soon as <NumberAt at={within(clears, "waiting")} label="So many wait" low={1} high={1e6} whole /> wait
          </p>
        )}
        {form === "message" ? (
          <MessagePlaces study={study} clears={clears} also={field.value?.also ?? []} />
        ) : (
          <Optional at={within(at, "lets_go")} offer="then all go on" fresh={1}>
            then <NumberAt at={within(at, "lets_go")} label="So many go on" low={1} high={1e6} whole /> go on at most
          </Optional>
        )}
      </div>
      <NotesAt at={at} keys={["clears", "lets_go", "open"]} />
    </Section>
  );
}

/** From which steps a message may come that lets a case go. */
function MessagePlaces({ study, clears, also }: { study: StudyDocument; clears: At; also: string[] }) {
  const fresh = study.steps.find((step) => !also.includes(step.id) && step.kind !== "exit")?.id;
  return (
    <>
      <p>
        when a branch or a companion of this very case comes to{" "}
        <RefAt at={within(clears, "message")} label="Message from step" kind="step" />
      </p>
      <ul>
        {also.map((step, n) => (
          <li key={`${step} ${n}`} className="flex items-start gap-1">
            <div className="min-w-0 flex-1">
              or <RefAt at={within(clears, "also", n)} label={`Message also from step ${n + 1}`} kind="step" />
            </div>
            <TakeAway
              at={within(clears, "also", n)}
              label={`Not from ${nameOf(study, "step", step)}`}
              onClick={() => write(within(clears, "also"), also.length > 1 ? also.toSpliced(n, 1) : undefined)}
            />
          </li>
        ))}
      </ul>
      {fresh && (
        <button type="button" className={LINK_BUTTON} onClick={() => write(within(clears, "also"), [...also, fresh])}>
          or another step
        </button>
      )}
      <p className="text-ink-2">A message that came before is kept.</p>
    </>
  );
}

/** Lets a signal wait for a message, which may come at any hour and lets one case go. */
function waitForMessage(study: StudyDocument, at: At, message: string): void {
  setAt(study, within(at, "clears"), { message });
  for (const key of ["lets_go", "open"]) setAt(study, within(at, key), undefined);
}

/** How many come together, and how long they wait for that. */
export function GatherSection({ at }: { at: At }) {
  return (
    <Section title="How many come together">
      <div className="leading-[1.9rem]">
        <NumberAt at={within(at, "count")} label="How many come together" low={1} high={1e6} whole /> travel on as one.
        <Optional at={within(at, "or_after")} offer="however long that takes" fresh="30 min">
          Fewer go on after <DurationAt at={within(at, "or_after")} label="Fewer go on after" />.
        </Optional>
      </div>
    </Section>
  );
}

/** Where the branches of a fork come together again. */
export function ForkSection({ at }: { at: At }) {
  const study = useStudy((state) => state.document);
  return (
    <Section title="Where the branches meet">
      at{" "}
      <RefAt
        at={within(at, "join")}
        label="Where branches meet"
        kind="step"
        only={(id) => study.steps.some((step) => step.id === id && step.kind === "join")}
      />
      <NotesAt at={at} keys={["join"]} />
    </Section>
  );
}

/** The traits that a step writes. */
export function TraitsSection({ study, step, at }: { study: StudyDocument; step: Extract<Step, { kind: "set" }>; at: At }) {
  const traits = within(at, "traits");
  return (
    <Section title="What it writes">
      <ul className="space-y-1 leading-[1.9rem]">
        {Object.keys(step.traits).map((id) => (
          <li key={id} className="flex items-start gap-1">
            <div className="min-w-0 flex-1">
              <TraitValueAt study={study} at={within(traits, id)} trait={id} mayAdd />
            </div>
            <TakeAway
              at={within(traits, id)}
              label={`Do not write ${nameOf(study, "trait", id)}`}
              onClick={() => write(within(traits, id), undefined)}
            />
          </li>
        ))}
      </ul>
      <NotesAt at={at} keys={["traits"]} />
      {withoutUsed(study, valueAt(study, traits)).map((trait) => (
        <button
          key={trait.id}
          type="button"
          data-sets={within(traits, trait.id)}
          className={`${LINK_BUTTON} mr-4 mt-1.5`}
          onClick={() => write(within(traits, trait.id), trait.values?.[0] ?? 0)}
        >
          Write {trait.name}
        </button>
      ))}
      {(study.traits ?? []).length === 0 && (
        <p className="text-sm text-ink-2">There is no trait yet. Make one: open the study’s sheet (nothing selected) and add it there.</p>
      )}
    </Section>
  );
}
