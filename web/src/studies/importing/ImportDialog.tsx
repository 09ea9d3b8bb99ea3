import type { Schemas } from "../../api/client";
import { MAIN_BUTTON, QUIET_BUTTON } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { ProblemNotes } from "../../ui/ProblemNotes";
import { MissingList } from "./MissingList";
import { NotKeptList } from "./NotKeptList";
import type { Chosen, useImport } from "./useImport";

/** What a file is that would become a study: what was found, what is missing, what cannot be kept. */
export function ImportDialog({ chosen, answer, make, isMaking, leave }: ReturnType<typeof useImport>) {
  return (
    <Modal
      open={chosen !== null}
      onClose={leave}
      title={chosen ? titleOf(chosen) : ""}
      wide={chosen?.kind === "process" || chosen?.kind === "folder"}
    >
      {chosen?.kind === "reading" && <p className="mb-4">Nothing is made of it yet.</p>}
      {chosen?.kind === "refused" && <Refused problems={chosen.problems} />}
      {chosen?.kind === "process" && (
        <>
          <Found found={chosen.read.found} />
          <MissingList missing={chosen.read.missing} answers={chosen.answers} onAnswer={answer} />
          <NotKeptList notes={chosen.read.not_kept} title="What cannot be kept as it was drawn" />
        </>
      )}
      {chosen?.kind === "study" && <StudyPreview {...chosen.preview} />}
      {chosen?.kind === "folder" && <FolderPreview {...chosen.look} />}
      <p className="sticky -bottom-6 -mb-6 flex justify-end gap-3 bg-sheet py-4">
        <button type="button" className={QUIET_BUTTON} onClick={leave}>
          {chosen?.kind === "refused" ? "Close" : "Cancel"}
        </button>
        {chosen && chosen.kind !== "refused" && (
          <button type="button" className={MAIN_BUTTON} disabled={isMaking || chosen.kind === "reading"} onClick={make}>
            {isMaking ? "Making it …" : "Make a study of it"}
          </button>
        )}
      </p>
    </Modal>
  );
}

function titleOf(chosen: Chosen): string {
  if (chosen.kind === "reading") return `Reading ${chosen.file} …`;
  if (chosen.kind === "refused") return `${chosen.file} could not be imported`;
  if (chosen.kind === "folder") return `The whole folder of “${chosen.look.name}”`;
  return chosen.kind === "study" ? `The study “${chosen.preview.name}”` : `The process “${chosen.read.study.name}”`;
}

/** What a file has in it, as a sentence: "2 participants, 9 tasks and 4 gateways". */
function Found({ found }: { found: Schemas["Count"][] }) {
  const told = found.map(({ what, count }) => `${count} ${what}`);
  return <p className="mb-4 text-ink-2">{new Intl.ListFormat("en-GB").format(told)}. Nothing is made of it yet.</p>;
}

function StudyPreview({ about, found, problems }: Schemas["StudyPreview"]) {
  const wrong = problems.filter((problem) => problem.level === "error");
  return (
    <>
      <Found found={found} />
      {about && <p className="mb-4 line-clamp-4">{about}</p>}
      {wrong.length > 0 && <p className="mb-2">It can be opened, and does not run until this is mended:</p>}
      <ProblemNotes problems={wrong.slice(0, 5)} />
    </>
  );
}

function FolderPreview({ about, found, runs_again, not_kept }: Schemas["FolderLook"]) {
  return (
    <>
      <Found found={found} />
      {about && <p className="mb-4 line-clamp-4">{about}</p>}
      {runs_again && <p className="mb-4">What was run is run again with the same luck, as soon as the study is made.</p>}
      <NotKeptList notes={not_kept} title="What does not come as it was" />
    </>
  );
}

function Refused({ problems }: { problems: Schemas["Problem"][] }) {
  return (
    <>
      <p className="mb-2 text-ink-2">Nothing was changed. Correct these places in the file:</p>
      <ul className="max-h-72 space-y-2 overflow-auto">
        {problems.map((problem) => (
          <li key={problem.where + problem.what}>
            <code className="text-sm font-bold">{problem.where}</code>
            <ProblemNotes problems={[problem]} />
          </li>
        ))}
      </ul>
    </>
  );
}
