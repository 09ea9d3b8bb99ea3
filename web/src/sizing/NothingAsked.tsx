import { useStudy } from "../study/session/store";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { addSizing } from "./addSizing";

/** What stands where no question has been put to right-sizing: which teams it may be about. */
export function NothingAsked({ onAsk }: { onAsk: (id: string) => void }) {
  const study = useStudy((state) => state.document);
  const people = study.teams.filter((team) => (team.kind ?? "people") === "people");
  const ask = (teams: typeof people) => onAsk(addSizing(teams));
  return (
    <main className="h-full overflow-y-auto px-7 py-6">
      <h1 className="text-xl font-bold">Which roster is the cheapest that keeps the promises?</h1>
      <p className="mt-2 max-w-xl text-ink-2">
        Say what must hold and how far the staffing may change. The answer is how many are needed at every hour, rosters that cover this,
        what they cost, how sure that is, and what a little more or less would buy.
      </p>
      {people.length === 0 ? (
        <p className="mt-4">Nobody works here yet. Add a team on the Teams screen first.</p>
      ) : (
        <div className="mt-5 flex flex-wrap gap-3">
          {people.length > 1 && (
            <button type="button" className={MAIN_BUTTON} onClick={() => ask(people)}>
              Size all teams
            </button>
          )}
          {people.map((team) => (
            <button key={team.id} type="button" className={people.length > 1 ? QUIET_BUTTON : MAIN_BUTTON} onClick={() => ask([team])}>
              Size {team.name}
            </button>
          ))}
          {(study.levers ?? []).length > 0 && (
            <button type="button" className={QUIET_BUTTON} onClick={() => ask([])}>
              Set the levers
            </button>
          )}
        </div>
      )}
    </main>
  );
}
