import { addCaseType, addTeam } from "../study/edits";
import { colourOf } from "../study/flow";
import { howOften } from "../study/streams";
import { edit, problemsOf, select, useStudy } from "../study/store";
import { LINK_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";

const ROW = "flex w-full items-baseline gap-2 rounded px-1 py-0.5 text-left hover:bg-value";

/** What a study is made of; shown while nothing on the map is selected. */
export function StudySheet() {
  const { document: study, problems } = useStudy();
  const elsewhere = problems.filter((problem) => !/^(steps|streams|teams|case_types)\//.test(problem.where));
  return (
    <>
      <p className="text-sm text-ink-2">Study</p>
      <h2 className="pb-2 text-xl font-bold">{study.name}</h2>
      {study.about && <p className="pb-3 text-sm text-ink-2">{study.about}</p>}
      <ProblemNotes problems={elsewhere} />
      <Section title="Streams">
        <ul>
          {study.streams.map((stream) => (
            <li key={stream.id}>
              <button type="button" className={ROW} onClick={() => select({ kind: "stream", id: stream.id })}>
                <b className="mr-auto">{stream.name}</b>
                <span className="text-sm text-ink-2">{howOften(stream)}</span>
              </button>
            </li>
          ))}
        </ul>
      </Section>
      <Section title="Case types">
        <ul>
          {study.case_types.map((type) => (
            <li key={type.id}>
              <button type="button" className={`${ROW} items-center`} onClick={() => select({ kind: "type", id: type.id })}>
                <TypeMark colour={colourOf(study, type.id)} />
                <b>{type.name}</b>
              </button>
            </li>
          ))}
        </ul>
        <button type="button" className={`${LINK_BUTTON} mt-1.5`} onClick={() => select({ kind: "type", id: edit("Add a case type", (draft) => addCaseType(draft).id) })}>
          Add a case type
        </button>
      </Section>
      <Section title="Teams">
        <ul>
          {study.teams.map((team) => (
            <li key={team.id}>
              <button type="button" className={ROW} onClick={() => select({ kind: "team", id: team.id })}>
                <b className="mr-auto">{team.name}</b>
                {problemsOf(problems, "teams", team.id).length > 0 && <span className="text-sm font-semibold">look</span>}
                <span className="text-sm text-ink-2">
                  {team.roster?.length ? "by roster" : (team.size ?? 1)}
                  {team.rate ? `${team.roster?.length ? ", " : " × "}${study.currency ?? "EUR"} ${team.rate} an hour` : ""}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <button type="button" className={`${LINK_BUTTON} mt-1.5`} onClick={() => select({ kind: "team", id: edit("Add a team", (draft) => addTeam(draft).id) })}>
          Add a team
        </button>
      </Section>
    </>
  );
}
