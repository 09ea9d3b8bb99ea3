import type { Outline } from "../api/queries";
import { spanWords } from "../study/values/spans";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { momentInWords } from "./moments";
import type { Player } from "./player";
import { type Stretch, useWay } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import type { Watched } from "./useWatched";

interface FollowedCaseProps {
  watched: Watched;
  player: Player;
  outline: Outline;
  number: number;
  onEnd: () => void;
}

/** The way of the case that is followed, up to the moment that is seen: waits with their causes, work with whom. */
export function FollowedCase({ watched, player, outline, number, onEnd }: FollowedCaseProps) {
  const way = useWay(watched, number);
  const moment = usePlaying(player, (each) => each.moment);
  const title = `Case ${number.toLocaleString("en")}${way.data?.type ? `, ${way.data.type}` : ""}`;
  if (!way.data)
    return (
      <Section title={title}>
        <p className="text-ink-2">{way.error?.message ?? "Following it …"}</p>
      </Section>
    );
  const { stretches } = way.data;
  const [first, last] = [stretches[0]?.at ?? 0, Math.max(...stretches.map(({ until }) => until))];
  const gone = stretches.filter(({ at }) => at <= moment);
  const waited = gone.reduce((sum, each) => sum + (isWait(each) && each.lane === 0 ? Math.min(each.until, moment) - each.at : 0), 0);
  const next = [...stretches.map(({ at }) => at), last].find((at) => at > moment);
  const isOver = way.data.is_over && moment >= last;
  return (
    <Section title={title}>
      <p className="mb-2 text-lg leading-6 font-bold">
        {moment < first ? `Comes ${momentInWords(outline.start, first)}` : `Waited ${spanWords(waited)}${isOver ? " in all" : " so far"}`}
      </p>
      <ol>
        {stretches.map((stretch) => (
          <StretchLine key={`${stretch.lane} ${stretch.at}`} stretch={stretch} outline={outline} player={player} moment={moment} />
        ))}
      </ol>
      <p className="mt-2 flex flex-wrap gap-x-4">
        <button type="button" className={LINK_BUTTON} onClick={() => player.goTo(first)}>
          To its coming
        </button>
        {next !== undefined && (
          <button type="button" className={LINK_BUTTON} onClick={() => player.goTo(next)}>
            To its next event
          </button>
        )}
        <button type="button" className={LINK_BUTTON} onClick={onEnd}>
          Follow it no more
        </button>
      </p>
    </Section>
  );
}

const isWait = ({ doing }: Stretch) => doing === "waits" || doing === "blocked";
const WORDS: Record<string, (name: string) => string> = {
  waits: (name) => `Waits at ${name}`,
  work: (name) => name,
  travels: (name) => `On the way to ${name}`,
  blocked: (name) => `Blocked at ${name}`,
  together: () => "Travels with others",
};
const BARS: Record<string, string> = { work: "bg-ink", travels: "bg-ink-3", together: "bg-ink-3" };

interface StretchLineProps {
  stretch: Stretch;
  outline: Outline;
  player: Player;
  moment: number;
}

/** One thing that a case did; pale where it is still to come. */
function StretchLine({ stretch, outline, player, moment }: StretchLineProps) {
  const { at, until, doing, name, cause, whom, lane } = stretch;
  const isNow = at <= moment && moment < until;
  const isAhead = at > moment;
  const more = [cause, whom.length > 0 ? `with ${whom.join(", ")}` : ""].filter(Boolean).join(", ");
  return (
    <li className="flex gap-2.5 leading-5" style={{ paddingLeft: lane * 14 }} aria-current={isNow || undefined}>
      <button
        type="button"
        className="w-11 shrink-0 self-start pt-px text-left text-sm text-ink-2 tabular-nums hover:underline"
        onClick={() => player.goTo(at)}
      >
        {momentInWords(outline.start, at).split(" ")[1]}
      </button>
      <span aria-hidden className={`w-3 shrink-0 ${BARS[doing] ?? "bg-marker"} ${isAhead ? "opacity-35" : ""}`} />
      <span className="min-w-0 flex-1 pb-1.5">
        <span className={isAhead ? "text-ink-2" : "font-bold"}>{WORDS[doing]?.(name) ?? name}</span>
        {more && <span className="block text-sm text-ink-2">{more}</span>}
      </span>
      <span className="shrink-0 text-sm text-ink-2 tabular-nums">{spanWords(until - at)}</span>
    </li>
  );
}
