import { type FormEvent, useState } from "react";
import { LINK_BUTTON } from "../ui/Menu";
import { momentInWords } from "./moments";
import type { Player } from "./player";
import { useLongWaits } from "./useFollowed";
import type { Side } from "./useWatched";

interface WaitedOverProps {
  first: Side;
  player: Player;
  /** The step whose line is shown, and what it is called. */
  step: string | undefined;
  name: string;
  /** Only of this type, where one is chosen. */
  type: string | undefined;
  onFollow: (number: number) => void;
}

const USUAL = "30";

/** Those who waited long at the step that is chosen, the longest first, to be followed. */
export function WaitedOver({ first: { watched, outline }, player, step, name, type, onFollow }: WaitedOverProps) {
  const [typed, setTyped] = useState(USUAL);
  const [over, setOver] = useState<number | null>(null);
  const found = useLongWaits(watched, over, step, type);
  const ask = (event: FormEvent) => {
    event.preventDefault();
    const minutes = Number(typed.replace(",", "."));
    if (Number.isFinite(minutes) && minutes >= 0) setOver(minutes);
  };
  if (!step) return null;
  return (
    <div className="mt-1.5">
      <form onSubmit={ask}>
        or who waited over{" "}
        <input
          inputMode="decimal"
          aria-label="Minutes waited"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="w-11 border-b-2 border-ink bg-value px-1 text-right font-semibold outline-none"
        />{" "}
        min at {name}{" "}
        <button type="submit" className={LINK_BUTTON}>
          Find them
        </button>
      </form>
      {found.data && (
        <>
          <p className="text-sm text-ink-2">{wordsOf(found.data.many, found.data.waits.length)}</p>
          <ol aria-label="Who waited long" className="max-h-40 overflow-y-auto text-sm leading-5">
            {found.data.waits.map(({ at, words, case: number }) => (
              <li key={`${at} ${number}`}>
                <button
                  type="button"
                  className="text-left hover:underline"
                  onClick={() => {
                    if (number) onFollow(number);
                    player.goTo(at);
                  }}
                >
                  {words}, case {number?.toLocaleString("en")}, {momentInWords(outline.start, at)}
                </button>
              </li>
            ))}
          </ol>
        </>
      )}
      {found.isError && <p className="text-sm text-wrong">{found.error.message}</p>}
    </div>
  );
}

function wordsOf(many: number, shown: number): string {
  if (many === 0) return "Nobody did.";
  return shown < many ? `${many.toLocaleString("en")} did; the ${shown} longest:` : `${many} did:`;
}
