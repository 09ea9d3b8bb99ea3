import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import type { Log } from "./logs";

const proposalsOf = (log: Log, document: StudyDocument) =>
  ask(api.POST("/api/logs/{log_id}/proposals", { params: { path: { log_id: log.id } }, body: document }));
export type Proposal = Awaited<ReturnType<typeof proposalsOf>>["proposals"][number];
export type Fitted = NonNullable<Proposal["fitted"]>;

/** What a log says beside what the study has, as it is seen now; asked for anew after each edit. */
export function useProposals(log: Log) {
  const document = useStudy((state) => state.document);
  return useQuery({
    queryKey: ["proposals", log.id, log.treatment, log.matching, document],
    placeholderData: keepPreviousData,
    gcTime: 0,
    queryFn: () => proposalsOf(log, document),
  });
}
