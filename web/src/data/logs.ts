import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ApiError, api, ask, problemsIn, type Schemas } from "../api/client";

const logOf = (id: number) => ask(api.GET("/api/logs/{log_id}", { params: { path: { log_id: id } } }));
export type Log = Awaited<ReturnType<typeof logOf>>;
export type LogEntry = Schemas["LogEntry"];
export type Reading = Schemas["Reading"];
export type Role = Schemas["Role"];
export type Form = Schemas["Form"];
export type Happening = Schemas["Happening"];

/** The steps of taking from a log, in their order. */
export const STAGES = [
  { id: "columns", name: "Columns" },
  { id: "look", name: "Look" },
  { id: "flow", name: "A flow" },
  { id: "take", name: "Take" },
  { id: "check", name: "Check" },
] as const;
export type Stage = (typeof STAGES)[number]["id"];

/** What columns can stand for. */
export const ROLES: { value: Role; label: string }[] = [
  { value: "case", label: "the case" },
  { value: "step", label: "the step" },
  { value: "came", label: "when it came" },
  { value: "began", label: "when work began" },
  { value: "ended", label: "when work ended" },
  { value: "at", label: "when it happened" },
  { value: "happened", label: "what happened" },
  { value: "planned", label: "when it was booked for" },
  { value: "who", label: "who did it" },
  { value: "type", label: "the case type" },
  { value: "trait", label: "a trait of the case" },
  { value: "replication", label: "the replication" },
  { value: "nothing", label: "left out" },
];
/** Those whose columns hold times. */
export const TIMED: Role[] = ["came", "began", "ended", "at", "planned"];

export const FORMS: { value: Form; label: string }[] = [
  { value: "year-first", label: "year, month, day" },
  { value: "day-first", label: "day, month, year" },
  { value: "month-first", label: "month, day, year" },
  { value: "minutes", label: "minutes" },
  { value: "seconds", label: "seconds" },
  { value: "unix-seconds", label: "seconds since 1970" },
  { value: "unix-milliseconds", label: "milliseconds since 1970" },
  { value: "spreadsheet-days", label: "a spreadsheet’s days" },
];

export const HAPPENINGS: { value: Happening; label: string }[] = [
  { value: "came", label: "the case came" },
  { value: "began", label: "work began" },
  { value: "paused", label: "work stood still" },
  { value: "resumed", label: "work went on" },
  { value: "worked", label: "work was done" },
  { value: "ended", label: "work ended" },
  { value: "gave-up", label: "the case gave up" },
  { value: "turned-away", label: "the case was turned away" },
  { value: "nothing", label: "nothing of interest" },
];

export const isAtWork = (log: LogEntry) => log.state === "waiting" || log.state === "reading";
const PAUSE = 500;

export function useLogs(studyId: number) {
  return useQuery({
    queryKey: ["logs", studyId],
    queryFn: () => ask(api.GET("/api/studies/{study_id}/logs", { params: { path: { study_id: studyId } } })),
  });
}

/** A log with all that is known of it; asked for again and again while a worker is at it. */
export function useLog(id: number | undefined) {
  return useQuery({
    queryKey: ["log", id],
    enabled: id !== undefined,
    queryFn: () => logOf(id ?? 0),
    refetchInterval: (query) => (query.state.data && isAtWork(query.state.data) ? PAUSE : false),
  });
}

/** Keeps what the server answered about a log where it is asked for; what was asked before, and comes later, is not taken. */
export function useKeepLog(studyId: number) {
  const client = useQueryClient();
  return async (log: Log) => {
    await client.cancelQueries({ queryKey: ["log", log.id] });
    client.setQueryData(["log", log.id], log);
    void client.invalidateQueries({ queryKey: ["logs", studyId] });
  };
}

/** Sends a file and tells how much of it has gone; throws an ApiError where it is refused. */
export function bringLog(studyId: number, file: File, onSent: (share: number) => void): Promise<Log> {
  return new Promise((done, refused) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/studies/${studyId}/logs?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRFToken", /csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "");
    request.responseType = "json";
    request.upload.onprogress = ({ loaded, total }) => onSent(total > 0 ? loaded / total : 0);
    request.onload = () =>
      request.status === 201 ? done(request.response as Log) : refused(new ApiError(request.status, problemsIn(request.response)));
    request.onerror = () => refused(new ApiError(0, problemsIn(null)));
    request.send(file);
  });
}

export const counted = (many: number, one: string, several = `${one}s`) => `${many.toLocaleString("en")} ${many === 1 ? one : several}`;
