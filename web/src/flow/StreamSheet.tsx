import { howOften } from "../study/streams";
import { addStream, round } from "../study/edits";
import { colourOf } from "../study/flow";
import { edit, problemsOf, select, useStudy } from "../study/store";
import type { Stream } from "../study/types";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";
import { numberBetween, ValueField } from "../ui/ValueField";
import { DistributionSentence } from "./DistributionSentence";
import { SheetTitle } from "./SheetTitle";
import { kindItems } from "./StepSheet";
import { insertHere } from "./useMapKeys";

function change(id: string, what: string, act: (stream: Stream) => void): void {
  edit(what, (study) => {
    const stream = study.streams.find((each) => each.id === id);
    if (stream) act(stream);
  });
}

/** A stream as sentences: how often cases come, of which types, and where to. */
export function StreamSheet({ id }: { id: string }) {
  const { document: study, problems } = useStudy();
  const stream = study.streams.find((each) => each.id === id);
  if (!stream) return null;
  const mine = problemsOf(problems, "streams", id);
  const inMix = mine.filter((problem) => problem.where.endsWith("/mix"));
  const shares = new Map((stream.mix ?? []).map((part) => [part.type, part.share]));
  const sum = [...shares.values()].reduce((total, share) => total + share, 0);
  return (
    <>
      <SheetTitle kind="Stream" name={stream.name} problems={mine.filter((problem) => !inMix.includes(problem))} onRename={(name) => change(id, `Rename to ${name}`, (draft) => void (draft.name = name))} />
      <Section title="How often they come">
        {stream.kind === "random" && stream.gap ? (
          <DistributionSentence
            verb="one every"
            about="One comes every"
            value={stream.gap}
            colour="var(--ink-2)"
            onChange={(gap) => change(id, `${stream.name}: how often`, (draft) => draft.kind === "random" && (draft.gap = gap))}
          />
        ) : (
          <p>They come {howOften(stream)}, as it stands in the study file.</p>
        )}
      </Section>
      {study.case_types.length > 0 && (
        <Section
          title="Who they are"
          aside={<span className={`text-sm ${Math.abs(sum - 1) > 1e-9 && shares.size > 0 ? "font-semibold text-wrong" : "text-ink-2"}`}>{shares.size > 0 ? `${round(sum * 100)} %` : ""}</span>}
        >
          <ul className="space-y-1.5">
            {study.case_types.map((type) => (
              <li key={type.id} className="flex items-baseline">
                <TypeMark colour={colourOf(study, type.id)} />
                <button type="button" className="mr-auto hover:underline" onClick={() => select({ kind: "type", id: type.id })}>
                  {type.name}
                </button>
                <ValueField
                  label={`Share of ${type.name}`}
                  value={String(round((shares.get(type.id) ?? 0) * 100))}
                  suffix="%"
                  parse={numberBetween(0, 100)}
                  onCommit={(value) =>
                    change(id, `${stream.name}: ${type.name} ${value} %`, (draft) => {
                      const share = round(Number(value) / 100);
                      const part = draft.mix?.find((each) => each.type === type.id);
                      if (part) part.share = share;
                      else (draft.mix ??= []).push({ type: type.id, share });
                    })
                  }
                />
              </li>
            ))}
          </ul>
          <ProblemNotes problems={inMix} />
        </Section>
      )}
      <Section title="Where they begin">
        <p>
          at <Choice label="First step" value={stream.to} options={study.steps.map((step) => ({ value: step.id, label: step.name }))} onChoose={(to) => change(id, `${stream.name}: begins elsewhere`, (draft) => void (draft.to = to))} />
        </p>
      </Section>
      <div className="flex gap-5 border-t border-rule pt-3">
        <Menu trigger="Insert after" items={kindItems(insertHere, "N")} />
        <button
          type="button"
          className={LINK_BUTTON}
          onClick={() => {
            const added = edit("Add a stream", addStream);
            if (added) select({ kind: "stream", id: added.id });
          }}
        >
          One more stream
        </button>
        {study.streams.length > 1 && (
          <button
            type="button"
            className={LINK_BUTTON}
            onClick={() => {
              edit(`Delete ${stream.name}`, (draft) => void (draft.streams = draft.streams.filter((each) => each.id !== id)));
              select(null);
            }}
          >
            Delete
          </button>
        )}
      </div>
    </>
  );
}
