import { type FormEvent, useState } from "react";
import { Choice } from "../ui/Choice";
import { LINK_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";
import type { Player } from "./player";
import type { FollowedMember } from "./useFollowed";
import type { Side } from "./useWatched";
import { WaitedOver } from "./WaitedOver";

interface FollowAnotherProps {
  first: Side;
  player: Player;
  /** The step whose line is shown, and what it is called. */
  step: string | undefined;
  name: string;
  isFollowing: boolean;
  onStep: (step: string) => void;
  onFollow: (number: number) => void;
  onMember: (member: FollowedMember) => void;
}

/** Stands for the cases of all types, as in the addresses of figures. */
const ALL = "all";

/** Cases that are worth following, of any type or of one, and any by its number; and members. */
export function FollowAnother({ first, player, step, name, isFollowing, onStep, onFollow, onMember }: FollowAnotherProps) {
  const { watched, outline } = first;
  const { study } = watched;
  const types = study.case_types ?? [];
  const [type, setType] = useState(ALL);
  const worth = outline.to_follow[type];
  const offers = [
    { words: "the one who waited longest", mark: worth?.longest_wait },
    { words: "a typical one", mark: worth?.typical },
    { words: "the first to give up", mark: worth?.gave_up },
  ];
  return (
    <Section
      title={isFollowing ? "Follow another" : "Follow a case"}
      aside={
        types.length > 1 && (
          <Choice
            quiet
            label="Of which type"
            value={type}
            options={[{ value: ALL, label: "of any type" }, ...types.map((each) => ({ value: each.id, label: `of ${each.name}` }))]}
            onChoose={setType}
          />
        )
      }
    >
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        {offers.map(
          ({ words, mark }) =>
            mark?.case && (
              <button
                key={words}
                type="button"
                className={LINK_BUTTON}
                onClick={() => {
                  onFollow(mark.case ?? 0);
                  if (mark.step) onStep(mark.step);
                  player.goTo(mark.at);
                }}
              >
                {words}
              </button>
            ),
        )}
        <CaseNumber onFollow={onFollow} />
      </p>
      <WaitedOver first={first} player={player} step={step} name={name} type={type === ALL ? undefined : type} onFollow={onFollow} />
      <p className="mt-1.5 flex flex-wrap items-baseline gap-x-2">
        or a member of
        {study.teams.map(
          ({ id, name, kind }, n) =>
            kind !== "places" &&
            (outline.members[n] ?? 0) > 0 && (
              <button key={id} type="button" className={LINK_BUTTON} onClick={() => onMember({ side: 0, team: id, member: 1 })}>
                {name}
              </button>
            ),
        )}
      </p>
      <p className="mt-1 text-sm text-ink-2">A click on a mark of the map does the same.</p>
    </Section>
  );
}

function CaseNumber({ onFollow }: Pick<FollowAnotherProps, "onFollow">) {
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
