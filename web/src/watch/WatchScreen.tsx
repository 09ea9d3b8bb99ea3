import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import type { Outline } from "../api/queries";
import { stepById } from "../study/document/flow";
import { Choice } from "../ui/Choice";
import { Counters } from "./Counters";
import { momentInWords, weekOf } from "./moments";
import type { Player } from "./player";
import { countIn } from "./scene";
import { TimeLine } from "./TimeLine";
import { Transport } from "./Transport";
import type { FollowedMember } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import { type Side, usePlayer, useSides, useWatchable, type Watched } from "./useWatched";
import { WatchMap, type WatchMapProps } from "./WatchMap";
import { WatchSheet } from "./WatchSheet";

/** One replication on the line map, or that of two scenarios: cases come, wait and are served, members come and go. */
export function WatchScreen() {
  const { found: sides, error } = useSides();
  const { player, problem } = usePlayer(sides);
  const [first] = sides ?? [];
  if (error) return <main className="p-8 text-wrong">{error.message}</main>;
  if (!sides || !first || !player)
    return (
      <main aria-busy className="p-8 text-ink-2">
        Making the replication again …
      </main>
    );
  return <Watching sides={sides} first={first} player={player} problem={problem} />;
}

interface WatchingProps {
  sides: Side[];
  /** The one of them that leads: its lines and moments are told. */
  first: Side;
  player: Player;
  problem: string;
}

function Watching({ sides, first, player, problem }: WatchingProps) {
  const { outline } = first;
  const [chosen, setStep] = useState<string | null>(null);
  const [followed, setFollowed] = useState<number | null>(null);
  const [member, setMember] = useState<FollowedMember | null>(null);
  const step = chosen ?? outline.longest_line?.step ?? undefined;
  const name = step ? (stepById(first.watched.study, step)?.name ?? "") : "";
  const said = useKeys(player, outline);
  return (
    <div className="flex h-full min-h-0">
      <main className="flex min-w-0 flex-1 flex-col px-5 pt-3 pb-2">
        <p role="status" className="sr-only">
          {said}
        </p>
        <Header sides={sides} first={first} player={player} />
        {problem && <p className="text-sm text-wrong">{problem}</p>}
        {sides.map((side, n) => (
          <OneSide
            key={side.watched.scenario}
            side={side}
            place={n}
            isAlone={sides.length === 1}
            player={player}
            step={step}
            followed={followed}
            onStep={setStep}
            onFollow={setFollowed}
            onMember={setMember}
          />
        ))}
        <Transport player={player} outline={outline} onStep={setStep} onFollow={setFollowed} />
        <TimeLine player={player} outline={outline} beside={sides[1]} step={step} name={name} />
      </main>
      <WatchSheet
        sides={sides}
        first={first}
        player={player}
        followed={followed}
        onFollow={setFollowed}
        onStep={setStep}
        step={step}
        name={name}
        member={member}
        onMember={setMember}
      />
    </div>
  );
}

interface OneSideProps extends Pick<WatchMapProps, "player" | "place" | "step" | "followed" | "onStep" | "onFollow"> {
  side: Side;
  isAlone: boolean;
  onMember: (member: FollowedMember) => void;
}

/** The map of one that is watched; of two, each with its name and its counters. */
function OneSide({ side, place, isAlone, player, onMember, ...asked }: OneSideProps) {
  const { watched, outline } = side;
  const { study, name } = watched;
  const of = isAlone ? study.name : `${study.name}, ${name}`;
  return (
    <section aria-label={isAlone ? "The map" : name} className="flex min-h-0 flex-1 flex-col border-rule not-first-of-type:border-t">
      {!isAlone && (
        <p className="flex flex-wrap items-baseline gap-x-4 pt-1">
          <b>{name}</b>
          <Counters player={player} side={side} place={place} />
        </p>
      )}
      {outline.stands_still && <StandsStill outline={outline} player={player} />}
      <WatchMap
        {...asked}
        study={study}
        words={() => `${of}, ${momentInWords(outline.start, player.moment)}`}
        player={player}
        place={place}
        outline={outline}
        onMember={(team, member) => onMember({ side: place, team, member })}
      />
    </section>
  );
}

/** The clock in large, what is watched, and how many are inside. */
function Header({ sides, first, player }: Pick<WatchingProps, "sides" | "first" | "player">) {
  const { start } = first.outline;
  const clock = usePlaying(player, ({ moment }) => momentInWords(start, moment, player.pace < 2));
  const week = usePlaying(player, ({ moment }) => weekOf(start, moment));
  return (
    <header className="flex flex-wrap items-baseline gap-x-4">
      <h1 className="min-w-62 text-[28px] font-bold tabular-nums" aria-live="off">
        {clock}
      </h1>
      <span className="text-ink-2">week {week}</span>
      <Replication watched={first.watched} />
      <Beside watched={first.watched} />
      {sides.length === 1 && <Counters player={player} side={first} place={0} />}
    </header>
  );
}

/** Stands for nothing beside, and for the study as it is, among the choices, none of which may be empty. */
const NOTHING = "nothing:";
const TODAY = "today:";

/** Which other scenario is watched beside, with the same luck and on the same clock. */
function Beside({ watched: { scenario } }: { watched: Watched }) {
  const [params, setParams] = useSearchParams();
  const others = useWatchable().filter((each) => each.scenario !== scenario);
  if (others.length === 0) return null;
  const beside = others.find((each) => each.scenario === params.get("beside"));
  const choose = (value: string) =>
    setParams(
      (before) => {
        if (value === NOTHING) before.delete("beside");
        else before.set("beside", value === TODAY ? "" : value);
        return before;
      },
      { replace: true },
    );
  return (
    <Choice
      quiet
      label="Beside it"
      value={beside ? beside.scenario || TODAY : NOTHING}
      options={[
        { value: NOTHING, label: "nothing beside it" },
        ...others.map((each) => ({ value: each.scenario || TODAY, label: `beside ${each.name}` })),
      ]}
      onChoose={choose}
    />
  );
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

function StandsStill({ outline, player }: { outline: Outline; player: Player }) {
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
