import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { Outline } from "../api/queries";
import { stepById } from "../study/document/flow";
import { Choice } from "../ui/Choice";
import { dayOf, longestLine, momentInWords, weekOf } from "./moments";
import type { Player } from "./player";
import { countIn, type Scene } from "./scene";
import { TimeLine } from "./TimeLine";
import { Transport } from "./Transport";
import type { FollowedMember } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import { useOutline, usePlayer, useWatched, type Watched } from "./useWatched";
import { WatchMap } from "./WatchMap";
import { WatchSheet } from "./WatchSheet";

/** One replication on the line map: cases come, wait and are served, members come and go. */
export function WatchScreen() {
  const watched = useWatched();
  const outline = useOutline(watched);
  const { player, problem } = usePlayer(watched, outline.data);
  if (outline.isError) return <main className="p-8 text-wrong">{outline.error.message}</main>;
  if (!watched || !outline.data || !player)
    return (
      <main aria-busy className="p-8 text-ink-2">
        Making the replication again …
      </main>
    );
  return <Watching watched={watched} outline={outline.data} player={player} problem={problem} />;
}

interface WatchingProps {
  watched: Watched;
  outline: Outline;
  player: Player;
  problem: string;
}

function Watching({ watched, outline, player, problem }: WatchingProps) {
  const { study } = watched;
  const [chosen, setStep] = useState<string | null>(null);
  const [followed, setFollowed] = useState<number | null>(null);
  const [member, setMember] = useState<FollowedMember | null>(null);
  const step = chosen ?? longestLine(outline)?.step;
  const name = step ? (stepById(study, step)?.name ?? "") : "";
  const said = useKeys(player, outline);
  return (
    <div className="flex h-full min-h-0">
      <main className="flex min-w-0 flex-1 flex-col px-5 pt-3 pb-2">
        <p role="status" className="sr-only">
          {said}
        </p>
        <Header watched={watched} outline={outline} player={player} />
        {problem && <p className="text-sm text-wrong">{problem}</p>}
        {outline.stands_still && <StandsStill outline={outline} player={player} />}
        <WatchMap
          study={study}
          words={() => `${study.name}, ${momentInWords(outline.start, player.moment)}`}
          player={player}
          members={outline.members}
          step={step}
          followed={followed}
          onStep={setStep}
          onFollow={setFollowed}
          onMember={setMember}
        />
        <Transport player={player} outline={outline} onStep={setStep} onFollow={setFollowed} />
        <TimeLine player={player} outline={outline} step={step} name={name} />
      </main>
      <WatchSheet
        watched={watched}
        player={player}
        outline={outline}
        followed={followed}
        onFollow={setFollowed}
        step={step}
        name={name}
        member={member}
        onMember={setMember}
      />
    </div>
  );
}

/** The clock in large, which replication it is, and how many are inside. */
function Header({ watched, outline, player }: Pick<WatchingProps, "watched" | "outline" | "player">) {
  const clock = usePlaying(player, ({ moment }) => momentInWords(outline.start, moment, player.pace < 2));
  const week = usePlaying(player, ({ moment }) => weekOf(outline.start, moment));
  const inside = usePlaying(player, ({ scene }) => (scene ? countIn(scene).inside : null));
  const waiting = usePlaying(player, ({ scene }) => (scene ? countIn(scene).waiting : null));
  const gives = useMemo(() => watched.study.steps.map((step) => step.kind === "exit" && step.abandoned === true), [watched.study]);
  const left = usePlaying(player, ({ scene, moment }) => (scene ? goneToday(scene, moment, outline, gives).left : null));
  const gaveUp = usePlaying(player, ({ scene, moment }) => (scene ? goneToday(scene, moment, outline, gives).gaveUp : null));
  return (
    <header className="flex flex-wrap items-baseline gap-x-4">
      <h1 className="min-w-62 text-[28px] font-bold tabular-nums" aria-live="off">
        {clock}
      </h1>
      <span className="text-ink-2">week {week}</span>
      <Replication watched={watched} />
      <p className="ml-auto flex gap-4 text-ink-2">
        <Count words="inside" many={inside} />
        <Count words="waiting" many={waiting} />
        <Count words="left today" many={left} />
        {gaveUp !== 0 && <Count words="gave up today" many={gaveUp} />}
      </p>
    </header>
  );
}

function Count({ words, many }: { words: string; many: number | null }) {
  return (
    <span>
      {words} <b className="text-lg text-ink tabular-nums">{many ?? "…"}</b>
    </span>
  );
}

/** How many have left since midnight, and how many have given up. */
function goneToday(scene: Scene, moment: number, outline: Outline, gives: boolean[]) {
  const { left, gaveUp } = scene.goneBy(moment, gives);
  const day = dayOf(outline.start, moment);
  return { left: left - (outline.left[day] ?? 0), gaveUp: gaveUp - (outline.gave_up[day] ?? 0) };
}

/** Which replication of the run is watched, and the others that are worth it. */
function Replication({ watched: { number, candidates, isOfRun } }: { watched: Watched }) {
  const [params, setParams] = useSearchParams();
  if (!isOfRun) return <span className="text-ink-2">the study as it is now, replication {number + 1}</span>;
  const options = candidates.map((each) => ({ value: String(each.number + 1), label: `replication ${each.number + 1}, ${each.words}` }));
  const known = options.some(({ value }) => value === String(number + 1));
  return (
    <Choice
      quiet
      label="Which replication"
      value={String(number + 1)}
      options={known ? options : [...options, { value: String(number + 1), label: `replication ${number + 1}` }]}
      onChoose={(value) => setParams({ ...Object.fromEntries(params), replication: value }, { replace: true })}
    />
  );
}

function StandsStill({ outline, player }: Pick<WatchingProps, "outline" | "player">) {
  return (
    <p className="text-sm text-wrong">
      From {momentInWords(outline.start, outline.ends)} on nothing moves: those inside wait only for each other.{" "}
      <button type="button" className="font-semibold underline" onClick={() => player.goTo(outline.ends)}>
        Look at it
      </button>
    </p>
  );
}

/** Space plays and pauses, arrows go event by event, brackets change the pace; C has the clock and the counters said. */
function useKeys(player: Player, outline: Outline): string {
  const [said, setSaid] = useState("");
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || event.altKey || target.closest("input, textarea, [role=slider], [role=dialog], [role=listbox]"))
        return;
      if (event.key === " " && !target.closest("button")) player.play(!player.playing);
      else if (event.key === "ArrowRight") player.step(true);
      else if (event.key === "ArrowLeft") player.step(false);
      else if (event.key === "]") player.faster(1);
      else if (event.key === "[") player.faster(-1);
      else if (event.key === "c") setSaid(inWords(player, outline));
      else return;
      event.preventDefault();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [player, outline]);
  return said;
}

function inWords({ scene, moment }: Player, outline: Outline): string {
  const counted = scene && countIn(scene);
  return `${momentInWords(outline.start, moment)}${counted ? `: ${counted.inside} inside, ${counted.waiting} waiting` : ""}`;
}
