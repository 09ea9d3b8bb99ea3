import { useMutation } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { counted, type Log, useKeepLog } from "./logs";

const WORDS: Record<Schemas["Choice"], string> = { "leave-out": "leave them out", "set-right": "set them right", keep: "keep them" };

const MOST_LINES = 6;

/** What is doubtful in a log, each with what is done about it; another choice lets all be found anew. */
export function Doubts({ log }: { log: Log }) {
  const study = useStudy((state) => state.id);
  const keep = useKeepLog(study);
  const treat = useMutation({
    mutationFn: (treatment: Schemas["Treatment"]) =>
      ask(api.PUT("/api/logs/{log_id}/treatment", { params: { path: { log_id: log.id } }, body: treatment })),
    onSuccess: keep,
    onError: (error) => toast.error(error.message),
  });
  if (!log.doubts?.length) return <p className="mt-1 text-sm text-ink-2">Nothing in it is doubtful.</p>;
  return (
    <section aria-label="What is doubtful" className="mt-3">
      <h2 className="text-sm font-bold">What is doubtful</h2>
      <ul className="mt-1 space-y-1">
        {log.doubts.map((doubt) => (
          <li key={doubt.kind} className="flex flex-wrap items-baseline gap-x-3">
            <span>
              <b>{counted(doubt.many, "visit")}</b> {doubt.words}
            </span>
            <Choice
              label={`What is done: ${doubt.words}`}
              value={doubt.chosen}
              options={doubt.choices.map((each) => ({ value: each, label: WORDS[each] }))}
              onChoose={(chosen) => treat.mutate({ ...log.treatment, [doubt.kind]: chosen })}
            />
            <span className="text-sm text-ink-2">
              {doubt.many === 1 ? "line" : "lines"} {doubt.lines.slice(0, MOST_LINES).join(", ")}
              {doubt.many > MOST_LINES && " …"}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
