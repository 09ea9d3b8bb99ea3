import { type FormEvent, useEffect, useRef, useState } from "react";
import type { Outline } from "../api/queries";
import type { StudyDocument } from "../study/document/types";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { drawState, paintOf } from "./drawing";
import { FollowedCase } from "./FollowedCase";
import { MemberDay } from "./FollowedMember";
import type { Player } from "./player";
import { STATE } from "./scene";
import type { FollowedMember } from "./useFollowed";
import type { Watched } from "./useWatched";
import { WaitedOver } from "./WaitedOver";
import { WhatHappened } from "./WhatHappened";

interface WatchSheetProps {
  watched: Watched;
  player: Player;
  outline: Outline;
  followed: number | null;
  onFollow: (number: number | null) => void;
  /** The step whose line is shown, and what it is called. */
  step: string | undefined;
  name: string;
  member: FollowedMember | null;
  onMember: (member: FollowedMember | null) => void;
}

/** The case that is followed, what happened last, and what the marks mean. */
export function WatchSheet({ watched, player, outline, followed, onFollow, step, name, member, onMember }: WatchSheetProps) {
  return (
    <aside aria-label="What is seen" className="w-82 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-3">
      {followed !== null && (
        <FollowedCase watched={watched} player={player} outline={outline} number={followed} onEnd={() => onFollow(null)} />
      )}
      {member && (
        <MemberDay watched={watched} player={player} outline={outline} followed={member} onFollow={onFollow} onMember={onMember} />
      )}
      <FollowAnother
        watched={watched}
        player={player}
        outline={outline}
        step={step}
        name={name}
        teams={watched.study.teams.filter((team, n) => team.kind !== "places" && (outline.members[n] ?? 0) > 0)}
        isFollowing={followed !== null}
        onFollow={onFollow}
        onMember={onMember}
      />
      <WhatHappened watched={watched} player={player} outline={outline} followed={followed} step={name} onFollow={onFollow} />
      <Section title="What the marks mean">
        <Legend study={watched.study} />
      </Section>
    </aside>
  );
}

interface FollowAnotherProps extends Omit<WatchSheetProps, "followed" | "member"> {
  teams: StudyDocument["teams"];
  isFollowing: boolean;
}

/** Cases that are worth following, and any by its number. */
function FollowAnother({ watched, player, outline, step, name, teams, isFollowing, onFollow, onMember }: FollowAnotherProps) {
  const gaveUp = outline.marks.find((mark) => mark.case);
  const offers = [
    { words: "the one who waited longest", mark: outline.longest_wait },
    { words: "a typical one", mark: outline.typical },
    { words: "the first to give up", mark: gaveUp },
  ];
  return (
    <Section title={isFollowing ? "Follow another" : "Follow a case"}>
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        {offers.map(
          ({ words, mark }) =>
            mark?.case && (
              <button
                key={words}
                type="button"
                className={LINK_BUTTON}
                onClick={() => {
                  onFollow(mark.case ?? null);
                  player.goTo(mark.at);
                }}
              >
                {words}
              </button>
            ),
        )}
        <CaseNumber onFollow={onFollow} />
      </p>
      <WaitedOver watched={watched} player={player} outline={outline} step={step} name={name} onFollow={onFollow} />
      <p className="mt-1.5 flex flex-wrap items-baseline gap-x-2">
        or a member of
        {teams.map(({ id, name }) => (
          <button key={id} type="button" className={LINK_BUTTON} onClick={() => onMember({ team: id, member: 1 })}>
            {name}
          </button>
        ))}
      </p>
      <p className="mt-1 text-sm text-ink-2">A click on a mark of the map does the same.</p>
    </Section>
  );
}

function CaseNumber({ onFollow }: Pick<WatchSheetProps, "onFollow">) {
  const [typed, setTyped] = useState<string | null>(null);
  if (typed === null)
    return (
      <button type="button" className={LINK_BUTTON} onClick={() => setTyped("")}>
        case number …
      </button>
    );
  const follow = (event: FormEvent) => {
    event.preventDefault();
    const number = Number(typed.replace(/[,\s]/g, ""));
    if (Number.isInteger(number) && number > 0) onFollow(number);
    setTyped(null);
  };
  return (
    <form onSubmit={follow}>
      <input
        autoFocus
        inputMode="numeric"
        aria-label="Case number"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setTyped(null)}
        className="w-24 border-b-2 border-ink bg-value px-1.5 font-semibold outline-none"
      />
    </form>
  );
}

const MARKS: { state: number; words: string }[] = [
  { state: STATE.working, words: "at work" },
  { state: STATE.idle, words: "free" },
  { state: STATE.onBreak, words: "on a break" },
  { state: STATE.interrupted, words: "called away" },
  { state: STATE.walking, words: "walking to a case" },
  { state: STATE.off, words: "off shift" },
  { state: STATE.absent, words: "misses the shift" },
];

function Legend({ study }: { study: StudyDocument }) {
  return (
    <ul className="space-y-1 text-sm text-ink-2">
      <li>
        A dot is a case, in the colour of its type. With a ring it is several that travel as one; a diamond is a branch, a square a
        companion.
      </li>
      {MARKS.map(({ state, words }) => (
        <li key={words} className="flex items-center gap-2">
          <StateMark study={study} state={state} />
          {words}
        </li>
      ))}
      <li>A line under a mark: in overtime.</li>
    </ul>
  );
}

function StateMark({ study, state }: { study: StudyDocument; state: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const pen = canvas.current?.getContext("2d");
    if (!pen) return;
    pen.setTransform(2, 0, 0, 2, 0, 0);
    pen.clearRect(0, 0, 18, 18);
    drawState(pen, 9, 9, 6, state, paintOf(study));
  }, [state, study]);
  return <canvas ref={canvas} width={36} height={36} className="size-4.5" aria-hidden />;
}
