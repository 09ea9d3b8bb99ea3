import { DAY } from "../study/values/days";
import { spanWords } from "../study/values/spans";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import { midnightBefore, momentInWords } from "./moments";
import type { Player } from "./player";
import { type FollowedMember, useMemberTime } from "./useFollowed";
import { usePlaying } from "./usePlaying";
import type { Side } from "./useWatched";

interface FollowedMemberProps {
  side: Side;
  isAlone: boolean;
  player: Player;
  followed: FollowedMember;
  onFollow: (number: number) => void;
  onMember: (member: FollowedMember | null) => void;
}

const OFF = "off shift";
const BARS: Record<string, string> = { "at work": "bg-ink", walking: "bg-ink-3", "on a break": "bg-marker", "called away": "bg-marker" };

/** The day of the member who is followed: cases, breaks, calls, and when there was nothing to do. */
export function MemberDay({ side, isAlone, player, followed, onFollow, onMember }: FollowedMemberProps) {
  const { watched, outline } = side;
  const midnight = usePlaying(player, ({ moment }) => midnightBefore(outline.start, moment));
  const moment = usePlaying(player, (each) => each.moment);
  const found = useMemberTime(watched, followed, Math.max(0, midnight), Math.min(outline.ends, midnight + DAY));
  const { data } = found;
  const many = outline.members[watched.study.teams.findIndex(({ id }) => id === followed.team)] ?? 1;
  if (!data) return <p className="py-2 text-ink-2">{found.error?.message ?? "Following …"}</p>;
  const spells = data.spells.filter(({ doing }) => doing !== OFF);
  const next = data.spells.find(({ at }) => at > moment);
  const sums = Object.entries(data.minutes).map(([doing, minutes]) => `${spanWords(minutes)} ${doing}`);
  const dayName = momentInWords(outline.start, Math.max(0, midnight)).split(" ")[0];
  return (
    <Section title={`${data.name}, ${dayName}${isAlone ? "" : `, ${watched.name}`}`}>
      <p className="mb-2 font-bold">{sums.join(", ") || "Not there on this day."}</p>
      <ol aria-label={`The day of ${data.name}`} className="max-h-96 overflow-y-auto">
        {spells.map(({ at, until, doing, overtime, case: number, step }) => (
          <li key={at} className="flex gap-2.5 leading-5" aria-current={(at <= moment && moment < until) || undefined}>
            <button
              type="button"
              className="w-11 shrink-0 self-start text-left text-sm text-ink-2 tabular-nums hover:underline"
              onClick={() => player.goTo(at)}
            >
              {momentInWords(outline.start, at).split(" ")[1]}
            </button>
            <span aria-hidden className={`w-3 shrink-0 ${BARS[doing] ?? "border border-ink"} ${at > moment ? "opacity-35" : ""}`} />
            <span className="min-w-0 flex-1 pb-1">
              {number === null ? (
                doing
              ) : (
                <button type="button" className="text-left hover:underline" onClick={() => onFollow(number)}>
                  {doing === "at work" ? "" : `${doing}, `}case {number.toLocaleString("en")} at {step}
                </button>
              )}
              {overtime && <span className="text-sm text-ink-2"> in overtime</span>}
            </span>
            <span className="shrink-0 text-sm text-ink-2 tabular-nums">{spanWords(until - at)}</span>
          </li>
        ))}
      </ol>
      <p className="mt-1 flex flex-wrap gap-x-4">
        {next && (
          <button type="button" className={LINK_BUTTON} onClick={() => player.goTo(next.at)}>
            To their next event
          </button>
        )}
        {many > 1 && (
          <button type="button" className={LINK_BUTTON} onClick={() => onMember({ ...followed, member: (followed.member % many) + 1 })}>
            The next of the team
          </button>
        )}
        <button type="button" className={LINK_BUTTON} onClick={() => onMember(null)}>
          Follow them no more
        </button>
      </p>
    </Section>
  );
}
