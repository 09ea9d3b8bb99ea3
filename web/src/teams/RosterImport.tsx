import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { edit } from "../study/session/store";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { SHIFT_COLUMNS } from "./rosterColumns";
import { type RostersRead, takeOver } from "./rosterFile";

interface RosterImportProps {
  study: StudyDocument;
  file: string;
  read: RostersRead;
  onDone: () => void;
}

/** A file of rosters before it is taken over: what would come in, and what of it cannot be kept. */
export function RosterImport({ study, file, read, onDone }: RosterImportProps) {
  const many = read.teams.reduce((sum, team) => sum + team.roster.length, 0);
  const shifts = `${many} ${many === 1 ? "shift" : "shifts"}`;
  const take = () => {
    edit(`${shifts} from ${file}`, (draft) => takeOver(draft, read));
    onDone();
  };
  return (
    <section aria-label="Shifts that would come in" className="flex min-h-64 flex-1 flex-col py-3">
      <p role="status" className="mb-2">
        <b>{file}</b>: {many === 0 ? "no shift can be read." : `${shifts} would come in.`}
      </p>
      <div className="min-h-0 flex-1 overflow-auto">
        {read.lost.length > 0 && (
          <>
            <p className="font-bold text-wrong">What cannot be kept:</p>
            <ul aria-label="What cannot be kept" className="mb-3 text-sm">
              {read.lost.map((each) => (
                <li key={each}>{each}</li>
              ))}
            </ul>
          </>
        )}
        {read.teams.map((team) => {
          const before = study.teams.find((each) => each.id === team.team)?.roster?.length ?? 0;
          return (
            <table key={team.team} className="mb-4 w-full text-sm">
              <caption className="text-left">
                <b>{nameOf(study, "team", team.team)}</b>{" "}
                <span className="text-ink-2">
                  {team.roster.length} in place of {before === 0 ? "being always there" : `the ${before} that are there`}
                  {team.closed.length > 0 && `; off on ${team.closed.join(", ")}`}
                </span>
              </caption>
              <thead className="text-ink-2">
                <tr>
                  {SHIFT_COLUMNS.map((column) => (
                    <th key={column.id} scope="col" className="border-b border-ink pr-4 text-left font-normal">
                      {column.label}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {team.roster.map((row, n) => (
                  <tr key={n} className="border-b border-rule">
                    {SHIFT_COLUMNS.map((column) => (
                      <td key={column.id} className="pr-4">
                        {column.text(row)}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          );
        })}
      </div>
      <div className="flex items-center gap-4 border-t border-rule pt-3">
        <button type="button" className={MAIN_BUTTON} disabled={many === 0} onClick={take}>
          Take over {shifts}
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={onDone}>
          Give up
        </button>
        <span className="text-sm text-ink-2">They take the place of the shifts of these teams; other teams stay as they are.</span>
      </div>
    </section>
  );
}
