import { useSyncExternalStore } from "react";
import type { Player } from "./player";

/** Draws anew what shows something of a player whenever that is another. */
export function usePlaying<T>(player: Player, read: (player: Player) => T): T {
  return useSyncExternalStore(
    (listener) => player.listen(listener),
    () => read(player),
  );
}
