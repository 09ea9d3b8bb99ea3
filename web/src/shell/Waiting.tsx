import { useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { isAway } from "../api/client";

/** Says that the server is away while what was asked of it is asked again and again. */
export function Waiting() {
  const cache = useQueryClient().getQueryCache();
  const away = useSyncExternalStore(
    (onChange) => cache.subscribe(onChange),
    () => cache.getAll().some(({ state }) => state.fetchStatus === "fetching" && isAway(state.fetchFailureReason)),
  );
  if (!away) return null;
  return (
    <p
      role="status"
      className="fixed bottom-22 left-1/2 z-50 -translate-x-1/2 whitespace-nowrap rounded bg-marker px-4 py-2 text-[#17202b]"
    >
      The server does not answer just now. It is asked again in a moment; nothing you typed is lost.
    </p>
  );
}
