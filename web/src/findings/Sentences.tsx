import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { choose } from "../study/session/store";
import { SentenceText } from "../ui/SentenceText";
import type { Shown } from "./shown";

/** Sentences stand in large type as long as they have no more letters than these together. */
const LARGE = 150;

interface SentencesProps {
  shown: Shown;
  findings: Schemas["RunFindings"];
  onLead: (address: string) => void;
  /** What can be done with it all. */
  children: ReactNode;
}

const isMissedTarget = ({ kind, is_wrong }: Schemas["Told"]) => kind === "target" && is_wrong;

/** Leads from a target that is missed to the staffing that would keep it. */
function SizeIt({ shown: { run, part } }: { shown: Shown }) {
  return (
    <Link
      to={`/studies/${run.study}/right-size`}
      className="whitespace-nowrap text-sm font-semibold text-ink underline underline-offset-4 hover:decoration-marker"
      onClick={() => choose(part.scenario || null)}
    >
      Size this
    </Link>
  );
}

/** What the run says, what matters most first, and how far it can be trusted. */
export function Sentences({ shown, findings, onLead, children }: SentencesProps) {
  const { run, part } = shown;
  const told = findings.sentences.map(({ sentence }) => sentence.map(({ words }) => words).join(""));
  const doubts = findings.doubts.filter(({ what }) => !told.includes(what));
  const long = told.map((_, n) => told.slice(0, n + 1).join(" ").length);
  const large = Math.max(1, long.filter((letters) => letters <= LARGE).length);
  const [first, rest] = [findings.sentences.slice(0, large), findings.sentences.slice(large)];
  return (
    <header>
      <h1 className="text-xl font-bold leading-7">
        {first.map((each, n) => (
          <span key={n} className={each.is_wrong ? "text-wrong" : undefined}>
            <SentenceText pieces={each.sentence} onLead={onLead} />{" "}
            {each.mend && <span className="text-sm font-normal text-ink-2">{each.mend} </span>}
            {isMissedTarget(each) && <SizeIt shown={shown} />}{" "}
          </span>
        ))}
      </h1>
      <ul className="mt-1.5 space-y-0.5">
        {rest.map((each, n) => (
          <li key={n} className={each.is_wrong ? "text-wrong" : undefined}>
            <SentenceText pieces={each.sentence} onLead={onLead} />
            {each.mend && <span className="text-sm text-ink-2"> {each.mend}</span>} {isMissedTarget(each) && <SizeIt shown={shown} />}
          </li>
        ))}
      </ul>
      <p className="mt-1.5 text-sm text-ink-2">
        <span className="float-right flex gap-x-4">{children}</span>
        {findings.grounds}
        {run.state === "stopped" && (
          <b className="text-ink">
            {" "}
            Stopped after {part.done} of {part.replications}.
          </b>
        )}
        {findings.to_leave_out && ` ${findings.to_leave_out}`}
      </p>
      {doubts.map(({ what, mend }) => (
        <p key={what} className="mt-1 border-l-2 border-wrong pl-2 text-sm">
          <b className="text-wrong">{what}</b> <span className="text-ink-2">{mend}</span>
        </p>
      ))}
    </header>
  );
}
