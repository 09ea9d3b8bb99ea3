import { X } from "lucide-react";
import { useNavigate } from "react-router";
import { partAt } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import type { Lever } from "../study/scenarios/levers";
import { addressIn } from "../study/scenarios/scenarios";
import { driveNoMore, makeArrivalsLever, placeWords, readValues, removeLever, todayOf, writtenValues } from "../study/scenarios/varying";
import { editWhole, problemsAt, select, useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { readName, ValueField } from "../ui/ValueField";
import { Combinations } from "./Combinations";
import { LeverGrid } from "./LeverGrid";

/** What scenarios may vary: each lever with all that it drives, and where each scenario puts it. */
export function Levers() {
  const study = useStudy((state) => state.whole);
  const levers = study.levers ?? [];
  const hasArrivals = levers.some((lever) => lever.scales && lever.sets?.some((path) => /^\/streams\/[^/]+$/.test(path)));
  return (
    <section aria-label="Levers" className="mt-8 max-w-4xl border-t-2 border-ink pt-4">
      <h2 className="text-xl font-bold">Levers</h2>
      <p className="mt-1 mb-3 max-w-2xl text-ink-2">
        A lever is a value of the study that scenarios vary. Open a step, a team or a stream, point at a value, and choose “Vary this”
        beside it; one lever may drive several values.
      </p>
      {levers.length > 0 && <LeverGrid study={study} />}
      <ul className="mt-4">
        {levers.map((lever) => (
          <LeverEntry key={lever.id} lever={lever} study={study} />
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap items-baseline gap-4">
        {!hasArrivals && study.streams.length > 0 && (
          <button
            type="button"
            className={QUIET_BUTTON}
            onClick={() => void editWhole("Vary all arrivals", (draft) => makeArrivalsLever(draft))}
          >
            Vary all arrivals
          </button>
        )}
        {levers.length > 0 && <Combinations study={study} />}
      </div>
    </section>
  );
}

const HOW = [
  { value: "sets", label: "puts its value in place of" },
  { value: "scales", label: "multiplies" },
];

function LeverEntry({ lever, study }: { lever: Lever; study: StudyDocument }) {
  const { id, name, sets = [] } = lever;
  const problems = useStudy((state) => (state.scenario === null ? state.problems : NONE));
  const change = (label: string, how: (lever: Lever) => void) =>
    editWhole(`${name}: ${label}`, (draft) => {
      const own = draft.levers?.find((each) => each.id === id);
      if (own) how(own);
    });
  const today = todayOf(study, lever);
  return (
    <li aria-label={name} className="border-t border-rule py-2 leading-[1.9rem]">
      <ValueField
        label={`Name of the lever ${name}`}
        value={name}
        parse={readName}
        onCommit={(next) => change(`called ${next}`, (own) => void (own.name = next))}
      />{" "}
      <Choice
        label={`What ${name} does`}
        value={lever.scales ? "scales" : "sets"}
        options={HOW}
        onChoose={(how) => change(how, (own) => void (own.scales = how === "scales"))}
      />{" "}
      {sets.length === 0 && <b className="text-wrong">nothing</b>}
      {sets.map((path, n) => (
        <span key={path} className="whitespace-nowrap">
          {n > 0 && (n === sets.length - 1 ? " and " : ", ")}
          <Place study={study} path={path} />
          {sets.length > 1 && (
            <span className="inline-block align-middle [&>button]:size-5">
              <IconButton
                label={`${name} no longer drives ${placeWords(study, addressIn(path))}`}
                icon={X}
                onClick={() => change("drives less", (own) => driveNoMore(own, addressIn(path)))}
              />
            </span>
          )}
        </span>
      ))}
      . It may be{" "}
      <ValueField
        label={`Values of ${name}`}
        value={writtenValues(lever)}
        placeholder="2, 3, 4 or 2 to 8 by 1"
        parse={(text) => {
          const read = readValues(today, text);
          return "problem" in read ? read : { value: text };
        }}
        onCommit={(text) => {
          const read = readValues(today, text);
          if ("value" in read) change("values", (own) => void Object.assign(own, read.value));
        }}
      />
      .{" "}
      <button
        type="button"
        className={LINK_BUTTON}
        onClick={() => editWhole(`Delete the lever ${name}`, (draft) => removeLever(draft, id))}
      >
        Delete<span className="sr-only"> the lever {name}</span>
      </button>
      <ProblemNotes problems={problemsAt(problems, `levers/${id}`)} />
    </li>
  );
}

const NONE: never[] = [];

/** A place that a lever drives; it leads there. */
function Place({ study, path }: { study: StudyDocument; path: string }) {
  const navigate = useNavigate();
  const at = addressIn(path);
  const part = partAt(at);
  return (
    <button
      type="button"
      className="underline decoration-dotted underline-offset-4 hover:decoration-solid"
      onClick={() => {
        void navigate(part?.kind === "team" ? "../teams" : "../flow", { relative: "path" });
        select(part, at);
      }}
    >
      {placeWords(study, at)}
    </button>
  );
}
