import { type FormEvent, useState } from "react";
import type { Outline } from "../api/queries";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { fullest, momentInWords, readMoment } from "./moments";
import { PACES, type Player } from "./player";
import { usePlaying } from "./usePlaying";

interface TransportProps {
  player: Player;
  outline: Outline;
  onStep: (id: string) => void;
  onFollow: (number: number) => void;
}

/** Play and pause, one event on or back, how fast, and where to go. */
export function Transport({ player, outline, onStep, onFollow }: TransportProps) {
  const playing = usePlaying(player, (each) => each.playing);
  const pace = usePlaying(player, (each) => each.pace);
  const longest = outline.longest_line;
  const wait = outline.to_follow.all?.longest_wait;
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1.5">
      <button
        type="button"
        className="w-20 rounded-md bg-ink py-1 font-bold text-paper"
        onClick={() => player.play(!playing)}
        aria-keyshortcuts="Space"
      >
        {playing ? "Pause" : "Play"}
      </button>
      <button type="button" className={LINK_BUTTON} onClick={() => player.step(false)} aria-keyshortcuts="ArrowLeft">
        Event before
      </button>
      <button type="button" className={LINK_BUTTON} onClick={() => player.step(true)} aria-keyshortcuts="ArrowRight">
        Next event
      </button>
      <span className="text-ink-2">
        a minute takes{" "}
        <Choice
          label="A minute takes"
          value={String(pace)}
          options={PACES.map(({ label }, n) => ({ value: String(n), label }))}
          onChoose={(chosen) => player.faster(Number(chosen) - pace)}
        />
      </span>
      <span className="ml-auto flex flex-wrap items-baseline gap-x-4 text-ink-2">
        go to
        {longest?.step && (
          <button
            type="button"
            className={LINK_BUTTON}
            onClick={() => {
              onStep(longest.step ?? "");
              player.goTo(longest.at);
            }}
          >
            the longest line
          </button>
        )}
        <button type="button" className={LINK_BUTTON} onClick={() => player.goTo(fullest(outline))}>
          the most inside
        </button>
        {wait && (
          <button
            type="button"
            className={LINK_BUTTON}
            onClick={() => {
              if (wait.step) onStep(wait.step);
              if (wait.case) onFollow(wait.case);
              player.goTo(wait.at - 1e-6);
            }}
          >
            the longest wait
          </button>
        )}
        <ATime player={player} outline={outline} />
      </span>
    </div>
  );
}

/** A time to go to, typed. */
function ATime({ player, outline }: { player: Player; outline: Outline }) {
  const [asked, setAsked] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  if (asked === null)
    return (
      <button type="button" className={LINK_BUTTON} onClick={() => setAsked(momentInWords(outline.start, player.moment))}>
        a time …
      </button>
    );
  const go = (event: FormEvent) => {
    event.preventDefault();
    const moment = readMoment(asked, outline.start, player.moment);
    if (moment === null) setProblem("Write it as 11:42, or as Thu 11:42 week 2.");
    else if (moment < 0 || moment > outline.ends) setProblem("The replication does not reach there.");
    else {
      player.goTo(moment);
      setAsked(null);
      setProblem("");
    }
  };
  return (
    <form onSubmit={go} className="relative">
      <input
        autoFocus
        aria-label="A time to go to"
        aria-invalid={problem !== ""}
        value={asked}
        onChange={(event) => setAsked(event.target.value)}
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape") setAsked(null);
        }}
        className="w-36 border-b-2 border-ink bg-value px-1.5 font-semibold text-ink outline-none"
      />
      {problem && (
        <span role="alert" className="absolute top-full right-0 z-10 bg-paper text-sm whitespace-nowrap text-wrong">
          {problem}
        </span>
      )}
    </form>
  );
}
