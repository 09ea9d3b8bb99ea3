import { useInfiniteQuery, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import { LineMap } from "../map/LineMap";
import { saveNow } from "../study/session/autosave";
import { documentOf, restoreVersion } from "../study/session/restoring";
import { useStudy } from "../study/session/store";
import { ChangeList } from "../ui/ChangeList";
import { LINK_BUTTON, MAIN_BUTTON } from "../ui/Menu";
import { Section } from "../ui/Section";

/** As many as the server lists at a time. */
const MOST_LISTED = 100;
const NOBODY = () => undefined;

/** Every version of the study with what changed in it; one can be looked at and restored. */
export function HistoryScreen() {
  const id = useStudy((state) => state.id);
  const version = useStudy((state) => state.version);
  const save = useStudy((state) => state.save);
  const [chosen, setChosen] = useState<number | null>(null);
  const versions = useInfiniteQuery({
    queryKey: ["versions", id, version, save === "saved"],
    initialPageParam: null as number | null,
    queryFn: async ({ pageParam: before }) => {
      await saveNow();
      return ask(
        api.GET("/api/studies/{study_id}/versions", { params: { path: { study_id: id }, query: before === null ? {} : { before } } }),
      );
    },
    getNextPageParam: (page) => (page.length < MOST_LISTED ? undefined : page.at(-1)?.number),
    placeholderData: (before) => before,
  });
  const entries = versions.data?.pages.flat() ?? [];
  const number = chosen ?? entries[0]?.number ?? null;
  const shown = useQuery({
    queryKey: ["version", id, number],
    enabled: number !== null,
    queryFn: () => documentOf(id, number ?? 0),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const since = useQuery({
    queryKey: ["since", id, number, version],
    enabled: number !== null && number !== version,
    queryFn: () =>
      ask(api.GET("/api/studies/{study_id}/versions/{number}/since", { params: { path: { study_id: id, number: number ?? 0 } } })),
  });
  const entry = entries.find((each) => each.number === number);
  return (
    <div className="flex h-full min-h-0">
      <nav aria-label="Versions" className="w-64 shrink-0 xl:w-87 overflow-y-auto border-r border-rule py-3">
        <h1 className="px-4 pb-2 text-xl font-bold">History</h1>
        <ol>
          {entries.map((each) => (
            <li key={each.number}>
              <button
                type="button"
                aria-current={each.number === number ? "true" : undefined}
                className="block w-full border-b border-rule px-4 py-2 text-left hover:bg-value aria-[current]:bg-marker-light"
                onClick={() => setChosen(each.number)}
              >
                <span className="flex justify-between text-sm text-ink-2">
                  <span>
                    Version {each.number}
                    {each.number === version ? ", now" : ""}
                  </span>
                  <span>{when(each.saved_at)}</span>
                </span>
                <span className="line-clamp-2">{each.changed || "Changed"}</span>
                <span className="text-sm text-ink-2">{each.saved_by}</span>
              </button>
            </li>
          ))}
        </ol>
        {versions.hasNextPage && (
          <button type="button" className={`${LINK_BUTTON} m-4`} onClick={() => void versions.fetchNextPage()}>
            Older versions
          </button>
        )}
      </nav>
      <main className="flex min-w-0 flex-1 flex-col">
        {shown.data && (
          <div className="min-h-0 flex-1">
            <LineMap key={number} study={shown.data} problems={[]} selection={null} mustBeWhole onSelect={NOBODY} />
          </div>
        )}
        {shown.isError && (
          <p role="alert" className="p-5">
            {shown.error.message}
          </p>
        )}
      </main>
      <aside aria-label="This version" className="w-64 shrink-0 xl:w-80 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4">
        <p className="text-sm text-ink-2">{entry ? `${when(entry.saved_at)}, ${entry.saved_by ?? "somebody"}` : ""}</p>
        <h2 className="pb-2 text-xl font-bold">Version {number}</h2>
        <Section title="What was changed then">
          <p>{entry?.changed || "It is not known."}</p>
        </Section>
        {number !== version && (
          <Section title="What has changed since">
            {since.data ? <ChangeList changes={since.data} /> : <p className="text-ink-2">…</p>}
          </Section>
        )}
        {number !== null && number !== version && <Restore number={number} />}
      </aside>
    </div>
  );
}

function Restore({ number }: { number: number }) {
  const navigate = useNavigate();
  const id = useStudy((state) => state.id);
  const restore = useMutation({
    mutationFn: () => restoreVersion(number),
    onSuccess: () => {
      toast(`Version ${number} is the study again. Undo takes it back.`);
      void navigate(`/studies/${id}/flow`);
    },
    onError: (error) => toast.error(error.message),
  });
  return (
    <button type="button" className={MAIN_BUTTON} onClick={() => restore.mutate()} disabled={restore.isPending}>
      Restore version {number}
    </button>
  );
}

function when(moment: string): string {
  return new Date(moment).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
}
