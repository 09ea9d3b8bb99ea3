import { useMemo } from "react";
import type { Outline } from "../api/queries";
import { dayOf } from "./moments";
import type { Player } from "./player";
import { countIn, type Scene } from "./scene";
import { usePlaying } from "./usePlaying";
import type { Side } from "./useWatched";

interface CountersProps {
  player: Player;
  side: Side;
  /** Which of those that are played it is. */
  place: number;
}

/** How many are inside and how many wait, and how many have left or given up today. */
export function Counters({ player, side: { watched, outline }, place }: CountersProps) {
  const gives = useMemo(() => watched.study.steps.map((step) => step.kind === "exit" && step.abandoned === true), [watched.study]);
  const counted = (of: (scene: Scene, moment: number) => number) => (each: Player) => {
    const scene = each.sceneOf(place);
    return scene && of(scene, each.moment);
  };
  const inside = usePlaying(
    player,
    counted((scene) => countIn(scene).inside),
  );
  const waiting = usePlaying(
    player,
    counted((scene) => countIn(scene).waiting),
  );
  const left = usePlaying(
    player,
    counted((scene, moment) => goneToday(scene, moment, outline, gives).left),
  );
  const gaveUp = usePlaying(
    player,
    counted((scene, moment) => goneToday(scene, moment, outline, gives).gaveUp),
  );
  return (
    <span className="ml-auto flex gap-4 text-ink-2">
      <Count words="inside" many={inside} />
      <Count words="waiting" many={waiting} />
      <Count words="left today" many={left} />
      {gaveUp !== 0 && <Count words="gave up today" many={gaveUp} />}
    </span>
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
