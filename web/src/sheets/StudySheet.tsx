import type { ReactNode } from "react";
import { TitleAt } from "../fields/PartTitle";
import { MomentAt, ReadAt } from "../fields/ValueAt";
import { colourOf } from "../study/document/flow";
import { addressOf, PARTS, type PartKind, partsOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { addPart } from "../study/session/adding";
import { edit, select, useStudy } from "../study/session/store";
import { readCurrency } from "../study/values/currency";
import { howOften } from "../study/values/streams";
import { LINK_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";

const ROW = "flex w-full items-baseline gap-2 rounded px-1 py-0.5 text-left hover:bg-value";

/** The drawing that a study was made of, in which it goes out again as a process. */
function KeptDrawing({ file }: { file?: string }) {
  const forget = () =>
    edit("Forget the drawing", (study) => {
      delete study.drawing;
    });
  return (
    <p className="pb-3 text-sm text-ink-2">
      Drawn in {file || "a file from elsewhere"}; exported, it keeps that drawing.{" "}
      <button type="button" className={LINK_BUTTON} onClick={forget}>
        Forget the drawing
      </button>
    </p>
  );
}

/** What a study is made of; shown while nothing on the map is selected. */
export function StudySheet() {
  const study = useStudy((state) => state.document);
  const problems = useStudy((state) => state.problems);
  const elsewhere = problems.filter((problem) => !Object.values(PARTS).some(({ list }) => problem.where.startsWith(`${list}/`)));
  return (
    <>
      <p className="text-sm text-ink-2">Study</p>
      <TitleAt at="name" label="Study name" name={study.name} />
      {study.about && <p className="pb-3 text-sm text-ink-2">{study.about}</p>}
      {study.drawing && <KeptDrawing file={study.drawing.file} />}
      <div className="pb-3 empty:hidden">
        <ProblemNotes problems={elsewhere} />
      </div>
      <PartList
        study={study}
        kind="stream"
        title="Streams"
        told={(id) => howOften(study.streams.find((each) => each.id === id) as StudyDocument["streams"][number])}
      />
      <PartList study={study} kind="type" title="Case types" mark={(id) => <TypeMark colour={colourOf(study, id)} />} />
      <PartList study={study} kind="team" title="Teams" told={(id) => teamInWords(study, id)} />
      <PartList
        study={study}
        kind="skill"
        title="Skills"
        told={(id) =>
          study.teams
            .filter((team) => team.skills?.includes(id))
            .map((team) => team.name)
            .join(", ")
        }
      />
      <PartList study={study} kind="calendar" title="Calendars" />
      <PartList
        study={study}
        kind="trait"
        title="Traits"
        told={(id) => study.traits?.find((each) => each.id === id)?.values?.join(", ") || "a number"}
      />
      <PartList
        study={study}
        kind="deadline"
        title="Deadlines"
        told={(id) => study.deadlines?.find((each) => each.id === id)?.within ?? ""}
      />
      <PartList study={study} kind="span" title="Spans" />
      <PartList study={study} kind="place" title="Places" />
      <Section title="When and in what">
        <p className="leading-8">
          A run begins on <MomentAt at="start" label="Start of a run" fallback="2027-03-01T08:00" />; money is in{" "}
          <ReadAt at="currency" label="Currency" parse={readCurrency} fallback="EUR" />
        </p>
      </Section>
    </>
  );
}

interface PartListProps {
  study: StudyDocument;
  kind: PartKind;
  title: string;
  told?: (id: string) => string;
  mark?: (id: string) => ReactNode;
}

function PartList({ study, kind, title, told, mark }: PartListProps) {
  const parts = partsOf(study, kind);
  const word = PARTS[kind].word.toLowerCase();
  return (
    <Section
      title={title}
      aside={
        <button
          type="button"
          className="text-sm text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink"
          onClick={() => addPart(kind)}
        >
          Add a {word}
        </button>
      }
    >
      <ul>
        {parts.map((part) => (
          <li key={part.id}>
            <button type="button" data-at={addressOf({ kind, id: part.id })} className={ROW} onClick={() => select({ kind, id: part.id })}>
              <span className="mr-auto">
                {mark?.(part.id)}
                <b>{part.name}</b>
              </span>
              <span className="text-right text-sm text-ink-2">{told?.(part.id)}</span>
            </button>
          </li>
        ))}
      </ul>
    </Section>
  );
}

function teamInWords(study: StudyDocument, id: string): string {
  const team = study.teams.find((each) => each.id === id);
  if (!team) return "";
  const many = team.roster?.length ? "by roster" : String(team.size ?? 1);
  return team.rate ? `${many}${team.roster?.length ? "," : " ×"} ${study.currency ?? "EUR"} ${team.rate} an hour` : many;
}
