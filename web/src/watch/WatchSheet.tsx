import { useEffect, useRef } from "react";
import type { StudyDocument } from "../study/document/types";
import { Section } from "../ui/Section";
import { drawState, paintOf } from "./drawing";
import { FollowAnother } from "./FollowAnother";
import { Followed } from "./FollowedCase";
import { MemberDay } from "./FollowedMember";
import type { Player } from "./player";
import { STATE } from "./scene";
import type { FollowedMember } from "./useFollowed";
import type { Side } from "./useWatched";
import { WhatHappened } from "./WhatHappened";

interface WatchSheetProps {
  sides: Side[];
  /** The one of them that leads. */
  first: Side;
  player: Player;
  followed: number | null;
  onFollow: (number: number | null) => void;
  onStep: (step: string) => void;
  /** The step whose line is shown, and what it is called. */
  step: string | undefined;
  name: string;
  member: FollowedMember | null;
  onMember: (member: FollowedMember | null) => void;
}

/** The case that is followed, what happened last, and what the marks mean. */
export function WatchSheet({ sides, first, player, followed, onFollow, onStep, step, name, member, onMember }: WatchSheetProps) {
  const whose = member && sides[member.side];
  return (
    <aside aria-label="What is seen" className="w-82 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-3">
      <h2 className="sr-only">What is seen</h2>
      {followed !== null && <Followed sides={sides} player={player} number={followed} onEnd={() => onFollow(null)} />}
      {whose && (
        <MemberDay side={whose} isAlone={sides.length === 1} player={player} followed={member} onFollow={onFollow} onMember={onMember} />
      )}
      <FollowAnother
        first={first}
        player={player}
        step={step}
        name={name}
        isFollowing={followed !== null}
        onStep={onStep}
        onFollow={onFollow}
        onMember={onMember}
      />
      <WhatHappened
        first={first}
        isAlone={sides.length === 1}
        player={player}
        followed={followed}
        member={member?.side === 0 ? member : null}
        step={name}
        onFollow={onFollow}
      />
      <Section title="What the marks mean">
        <Legend study={first.watched.study} />
      </Section>
    </aside>
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
