import { Download } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { Menu } from "../ui/Menu";
import type { Player } from "./player";
import { canFilm, film, type Scenery, saveMoment } from "./taking";

/** Takes what is seen away: as a picture, or as a film of what is played from now on. */
export function SaveMoment({ player, scenery }: { player: Player; scenery: () => Scenery | null }) {
  const [isFilming, setFilming] = useState(false);
  const end = useRef<(() => void) | null>(null);
  useEffect(() => () => end.current?.(), []);
  const attempt = (take: (scenery: Scenery) => Promise<unknown>) => async () => {
    try {
      await player.settled();
      const here = scenery();
      if (here) await take(here);
    } catch (error) {
      toast.error(String(error));
    }
  };
  const begin = async (here: Scenery) => {
    end.current = await film(here, (listener) => player.listen(listener));
    setFilming(true);
    player.play(true);
  };
  const stop = () => {
    end.current?.();
    end.current = null;
    setFilming(false);
    player.play(false);
  };
  if (isFilming)
    return (
      <button type="button" className="rounded bg-ink px-2.5 py-0.5 font-bold text-paper" onClick={stop}>
        End the film and save it
      </button>
    );
  const filmItem = canFilm()
    ? { label: "Film what is played from now on", onChoose: attempt(begin) }
    : { label: "A film: this browser cannot make one", onChoose: () => toast("Chromium and Firefox can; a picture can be saved here.") };
  return (
    <Menu
      label="Save what is seen"
      className="rounded p-1 text-ink-3 hover:bg-value hover:text-ink"
      trigger={<Download size={16} aria-hidden />}
      items={[
        { label: "Picture as SVG", onChoose: attempt((here) => saveMoment(here, "svg")) },
        { label: "Picture as PNG", onChoose: attempt((here) => saveMoment(here, "png")) },
        { ...filmItem, separated: true },
      ]}
    />
  );
}
