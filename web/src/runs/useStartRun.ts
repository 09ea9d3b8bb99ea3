import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { ApiError, api, ask } from "../api/client";
import { requireSaved } from "../study/session/autosave";
import { happen, useStudy } from "../study/session/store";
import { useToRun } from "./toRun";

/** Saves what is typed, runs what is chosen of it or the scenarios that are asked for, and goes to where the progress shows. */
export function useStartRun() {
  const chosen = useToRun();
  const client = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: async (asked: string[] | null) => {
      await requireSaved("run");
      const { id } = useStudy.getState();
      const body = { scenarios: asked ?? chosen };
      return ask(api.POST("/api/studies/{study_id}/runs", { params: { path: { study_id: id } }, body }));
    },
    onSuccess: async (run) => {
      await client.invalidateQueries({ queryKey: ["runs", run.study] });
      await navigate(`/studies/${run.study}/run`, { state: { follow: run.id } });
    },
    onError: (error) => {
      const first = error instanceof ApiError ? error.problems[0] : undefined;
      toast.error(first ? `It cannot run. ${first.what} ${first.mend}` : error.message);
      if (error instanceof ApiError && error.status === 422)
        happen({ type: "checked", of: useStudy.getState().document, problems: error.problems });
    },
  });
}
