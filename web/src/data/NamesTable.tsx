import { useMutation } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { type Log, useKeepLog } from "./logs";

type Matching = Schemas["Matching"];
type Names = NonNullable<Matching["steps"]>;

const NONE = "none:";

/** What the names of a log stand for in the study. */
export function NamesTable({ log, matching }: { log: Log; matching: Matching }) {
  const study = useStudy((state) => state.document);
  const keep = useKeepLog(useStudy((state) => state.id));
  const match = useMutation({
    mutationFn: (body: Matching) => ask(api.PUT("/api/logs/{log_id}/matching", { params: { path: { log_id: log.id } }, body })),
    onSuccess: keep,
    onError: (error) => toast.error(error.message),
  });
  const { steps = {}, types = {} } = matching;
  const set = (part: "steps" | "types", name: string, id: string) =>
    match.mutate({ ...log.matching, [part]: { ...log.matching[part], [name]: id === NONE ? null : id } });
  return (
    <section aria-label="What its names stand for" className="mt-5 border-t border-rule pt-3">
      <h2 className="text-sm font-bold">What its names stand for</h2>
      <div className="mt-1 grid gap-x-10 xl:grid-cols-2">
        <NamesOf word="step" names={steps} parts={study.steps} onChoose={(name, id) => set("steps", name, id)} />
        <NamesOf word="case type" names={types} parts={study.case_types} onChoose={(name, id) => set("types", name, id)} />
      </div>
    </section>
  );
}

interface NamesOfProps {
  word: string;
  names: Names;
  parts: { id: string; name: string }[];
  onChoose: (name: string, id: string) => void;
}

function NamesOf({ word, names, parts, onChoose }: NamesOfProps) {
  const all = Object.entries(names);
  if (all.length === 0) return null;
  const options = [{ value: NONE, label: "nothing in the study" }, ...parts.map(({ id, name }) => ({ value: id, label: name }))];
  return (
    <ul>
      {all.map(([name, id]) => (
        <li key={name} className="flex flex-wrap items-baseline gap-x-2 border-b border-rule py-0.5 text-sm">
          <span className={id ? "" : "font-semibold"}>{name}</span>
          <span className="text-ink-2">is the {word}</span>
          <Choice label={`What ${name} stands for`} quiet value={id ?? NONE} options={options} onChoose={(next) => onChoose(name, next)} />
        </li>
      ))}
    </ul>
  );
}
