import type { Outline } from "../api/queries";
import { spanWords } from "../study/values/spans";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { momentInWords } from "./moments";
import type { Player } from "./player";
import { type Stretch, useWays, type Way } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import type { Side } from "./useWatched";
import { WaysBeside } from "./WaysBeside";
import { comingOf, endOf, waitedOf } from "./ways";

interface FollowedProps {
  sides: Side[];
  player: Player;
  number: number;
  onEnd: () => void;
}

/** The case that is followed, and its way: that in another scenario beside it, where that is watched too. */
export function Followed({ sides, player, number, onEnd }: FollowedProps) {
  const found = useWays(sides, number);
  const moment = usePlaying(player, (each) => each.moment);
  const [way, other] = found.map(({ data }) => data);
  const [first, beside] = sides;
  const title = `Case ${number.toLocaleString("en")}${way?.type ? `, ${way.type}` : ""}`;
  const error = found.find((each) => each.error)?.error;
  if (!way || !first)
    return (
      <Section title={title}>
        <p className="text-ink-2">{error?.message ?? "Following it …"}</p>
      </Section>
    );
  const comes = comingOf(way);
  const next = [...way.stretches.map(({ at }) => at), endOf(way)].find((at) => at > moment);
  return (
    <Section title={title}>
      {beside && other && <WaysBeside names={[first.watched.name, beside.watched.name]} ways={[way, other]} moment={moment} />}
      <WayOf way={way} side={first} player={player} moment={moment} isAlone={!beside} />
      {beside && (other ? <WayOf way={other} side={beside} player={player} moment={moment} isAlone={false} /> : <p>{error?.message}</p>)}
      <p className="mt-2 flex flex-wrap gap-x-4">
        <button type="button" className={LINK_BUTTON} onClick={() => player.goTo(comes)}>
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

interface WayOfProps {
  way: Way;
  side: Side;
  player: Player;
  moment: number;
  isAlone: boolean;
}

/** The way of the case up to the moment that is seen: waits with their causes, work with whom. */
function WayOf({ way, side: { watched, outline }, player, moment, isAlone }: WayOfProps) {
  const comes = comingOf(way);
  const isOver = way.leaves_by !== null && moment >= endOf(way);
  return (
    <>
      {!isAlone && <h4 className="mt-2 text-sm text-ink-2">{watched.name}</h4>}
      <p className="mb-2 text-lg leading-6 font-bold">
        {moment < comes
          ? `Comes ${momentInWords(outline.start, comes)}`
          : `Waited ${spanWords(waitedOf(way, moment))}${isOver ? " in all" : " so far"}`}
      </p>
      <ol aria-label={isAlone ? "Its way" : `Its way: ${watched.name}`}>
        {way.stretches.map((stretch) => (
          <StretchLine key={`${stretch.lane} ${stretch.at}`} stretch={stretch} outline={outline} player={player} moment={moment} />
        ))}
        {way.leaves_by && (
          <li className="flex gap-2.5 leading-5">
            <span className="w-11 shrink-0 pt-px text-sm text-ink-2 tabular-nums">
              {momentInWords(outline.start, endOf(way)).split(" ")[1]}
            </span>
            <span className="w-3 shrink-0" />
            <span className={isOver ? "font-bold" : "text-ink-2"}>
              {way.gives_up ? "Gives up" : "Leaves"}: {way.leaves_by}
            </span>
          </li>
        )}
      </ol>
    </>
  );
}

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
