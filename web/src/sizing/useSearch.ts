import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { ApiError, api, ask } from "../api/client";
import type { Search } from "../api/queries";
import { requireSaved } from "../study/session/autosave";
import { useStudy } from "../study/session/store";

/** Saves what is typed, and looks for the cheapest staffing of what is seen. */
export function useStartSearch() {
  const renew = useRenew();
  return useMutation({
    mutationFn: async (sizing: string) => {
      await requireSaved("searched");
      const { id, scenario } = useStudy.getState();
      const body = { sizing, scenario: scenario ?? "" };
      return ask(api.POST("/api/studies/{study_id}/searches", { params: { path: { study_id: id } }, body }));
    },
    onSuccess: renew,
    onError: tell,
  });
}

/** Stops a search, goes on with it, or takes it away. */
export function useSteering(search: Search) {
  const onSuccess = useRenew();
  const params = { path: { search_id: search.id } };
  const stop = useMutation({ mutationFn: () => ask(api.POST("/api/searches/{search_id}/cancel", { params })), onSuccess, onError: tell });
  const goOn = useMutation({ mutationFn: () => ask(api.POST("/api/searches/{search_id}/more", { params })), onSuccess, onError: tell });
  const remove = useMutation({
    mutationFn: () => api.DELETE("/api/searches/{search_id}", { params }).then(() => undefined),
    onSuccess,
    onError: tell,
  });
  return { stop, goOn, remove };
}

function useRenew() {
  const client = useQueryClient();
  return () => client.invalidateQueries({ queryKey: ["searches"] });
}

function tell(error: Error): void {
  const first = error instanceof ApiError ? error.problems[0] : undefined;
  toast.error(first ? `${first.what} ${first.mend}` : error.message);
}
