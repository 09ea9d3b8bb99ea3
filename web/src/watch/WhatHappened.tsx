import { useState } from "react";
import { toast } from "sonner";
import { useCatalogue } from "../api/queries";
import { DAY } from "../study/values/days";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Section } from "../ui/Section";
import { midnightBefore, momentInWords } from "./moments";
import type { Player } from "./player";
import { type FollowedMember, type Only, saveLog, useLogbook } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import type { Side } from "./useWatched";

/** So many minutes back the logbook is told. */
const BACK = 5;

/** Stands for every kind of event. */
const ANY = "any";

interface WhatHappenedProps {
  first: Side;
  isAlone: boolean;
  player: Player;
  /** The case and the member that are followed. */
  followed: number | null;
  member: FollowedMember | null;
  /** The name of the step whose line is shown. */
  step: string;
  onFollow: (number: number) => void;
}

/** The logbook of the last minutes, in words, the latest first; asked for, and told while the replay pauses. */
export function WhatHappened({ first, isAlone, player, followed, member, step, onFollow }: WhatHappenedProps) {
  const { watched, outline } = first;
  const [isAsked, setAsked] = useState(false);
  const playing = usePlaying(player, (each) => each.playing);
  const moment = usePlaying(player, (each) => each.moment);
  const [ofCase, setOfCase] = useState(false);
  const [atStep, setAtStep] = useState(false);
  const [ofMember, setOfMember] = useState(false);
  const [kind, setKind] = useState<NonNullable<Only["kind"]> | typeof ANY>(ANY);
  const kinds = useCatalogue()?.log_kinds ?? {};
  const only: Only = {
    ...(ofCase && followed !== null && { case: followed }),
    ...(atStep && step && { step }),
    ...(ofMember && member && { team: member.team, member: member.member }),
    ...(kind !== ANY && { kind }),
  };
  const book = useLogbook(watched, Math.max(0, moment - BACK), moment, only, isAsked && !playing);
  const now = momentInWords(outline.start, moment, true).split(" ")[1];
  const midnight = Math.max(0, midnightBefore(outline.start, moment));
  const take = (form: "csv" | "xes") => () =>
    void saveLog(watched, midnight, midnight + DAY, form).catch((error: unknown) => toast.error(String(error)));
  if (!isAsked)
    return (
      <Section title="What happened">
        <button type="button" className={LINK_BUTTON} onClick={() => setAsked(true)}>
          Open the logbook
        </button>
      </Section>
    );
  return (
    <Section title={`What happened${isAlone ? "" : ` (${watched.name})`}, ${BACK} min up to ${now}`}>
      {playing && <p className="text-sm text-ink-2">It is told while the replay pauses.</p>}
      <p className="flex flex-wrap gap-x-4 text-sm text-ink-2">
        {followed !== null && <Tick words={`of case ${followed.toLocaleString("en")} only`} is={ofCase} onTick={setOfCase} />}
        {member && <Tick words="of the member only" is={ofMember} onTick={setOfMember} />}
        {step && <Tick words={`at ${step} only`} is={atStep} onTick={setAtStep} />}
        <Choice
          quiet
          label="What kind of event"
          value={kind}
          options={[{ value: ANY, label: "every kind of event" }, ...Object.entries(kinds).map(([value, label]) => ({ value, label }))]}
          onChoose={(value) => setKind(value as typeof kind)}
        />
      </p>
      {!playing && (
        <ol aria-label="Logbook" className="text-sm leading-5">
          {book.data?.lines.toReversed().map((line, n) => (
            <li key={n} className="flex gap-2">
              <span className="shrink-0 text-ink-2 tabular-nums">{momentInWords(outline.start, line.at, true).split(" ")[1]}</span>
              {line.case ? (
                <button type="button" className="text-left hover:underline" onClick={() => onFollow(line.case ?? 0)}>
                  {line.words}
                </button>
              ) : (
                <span>{line.words}</span>
              )}
            </li>
          ))}
          {book.data?.lines.length === 0 && <li className="text-ink-2">Nothing.</li>}
          {book.isError && <li className="text-wrong">{book.error.message}</li>}
        </ol>
      )}
      <Menu
        trigger="Take out the day …"
        items={[
          { label: "As a table (CSV)", onChoose: take("csv") },
          { label: "As an event log (XES)", onChoose: take("xes") },
        ]}
      />
    </Section>
  );
}

function Tick({ words, is, onTick }: { words: string; is: boolean; onTick: (is: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5">
      <input type="checkbox" checked={is} onChange={(event) => onTick(event.target.checked)} /> {words}
    </label>
  );
}
