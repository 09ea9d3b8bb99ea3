import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { useStudy } from "../study/session/store";
import { aboutSeconds } from "../study/values/durations";

const PAUSE_WITHOUT_WORKERS = 3000;

/** About how long the run will take, as soon as what is typed is saved. */
export function Estimate({ toRun }: { toRun: string[] }) {
  const id = useStudy((state) => state.id);
  const version = useStudy((state) => state.version);
  const isSaved = useStudy((state) => state.save === "saved");
  const estimate = useQuery({
    queryKey: ["estimate", id, version, toRun],
    enabled: isSaved && toRun.length > 0,
    gcTime: 0,
    refetchInterval: (query) => (query.state.data?.seconds === null ? PAUSE_WITHOUT_WORKERS : false),
    queryFn: () =>
      ask(api.POST("/api/studies/{study_id}/runs/estimate", { params: { path: { study_id: id } }, body: { scenarios: toRun } })),
  });
  if (estimate.error) return <p className="max-w-xl text-sm text-wrong">{estimate.error.message}</p>;
  if (!estimate.data) return null;
  const { parts, seconds } = estimate.data;
  const stored = parts.reduce((sum, part) => sum + part.stored, 0);
  const wanted = parts.reduce((sum, part) => sum + part.replications, 0);
  return (
    <p className="text-sm text-ink-2">
      {seconds === null ? "No worker is there to run it; it waits until one is." : `Takes about ${aboutSeconds(seconds)}.`}
      {stored > 0 && ` ${stored === wanted ? "All" : stored} of ${wanted} replications are stored from earlier runs.`}
    </p>
  );
}
