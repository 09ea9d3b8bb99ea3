import type { StudyDocument } from "../study/document/types";
import { attempt, select, useToday } from "../study/session/store";
import { Grid } from "../ui/Grid";
import { ableOf, askedFor, askingSteps, loadOf, putNeeds, thereOf } from "./needs";
import { useLoad } from "./useLoad";

/** Who does what: how many of each team and of each skill a step asks for at once, and the load that it brings them. */
export function NeedsGrid({ study }: { study: StudyDocument }) {
  const staffing = useLoad(study);
  const [steps, able] = [askingSteps(study), ableOf(study)];
  const today = useToday();
  const askedToday = new Map(today && askingSteps(today).map((step) => [step.id, step]));
  const isSum = (row: number) => row === steps.length;
  const loads = steps.map((step) => able.map((whom) => loadOf(step, whom, staffing.data)));
  const sum = (column: number): string | null => {
    const whom = able[column];
    if (!whom || !staffing.data) return null;
    const there = thereOf(study, whom, staffing.data);
    const load = loads.reduce((all, row) => all + (row[column] ?? 0), 0);
    return `${load.toFixed(2)} of ${Number(there.toFixed(1))}`;
  };
  return (
    <>
      <p className="pb-3 text-ink-2">
        How many a step asks for at once, and beside it how many that keeps at work on average over the week. Type a number, or nothing.
        {staffing.isError && ` The load cannot be said: ${staffing.error.message}`}
      </p>
      <div className="min-h-72 flex-1 pb-2" aria-busy={staffing.isFetching}>
        <Grid
          label="Who does what"
          corner="Step"
          labelWidth={170}
          rows={[
            ...steps.map(({ id, name }) => ({ id, label: name, name })),
            { id: "+sum", label: <b>At work, of those there</b>, name: "At work, of those there" },
          ]}
          columns={able.map((whom) => ({
            id: `${whom.key} ${whom.id}`,
            label: whom.key === "skill" ? <i>{whom.name}</i> : whom.name,
            name: whom.key === "skill" ? `skill ${whom.name}` : whom.name,
            width: 104,
            numbers: true,
          }))}
          text={(row, column) => {
            const [step, whom] = [steps[row], able[column]];
            return step && whom ? askedFor(step, whom) : null;
          }}
          note={(row, column) => (isSum(row) ? sum(column) : loads[row]?.[column] ? (loads[row]?.[column]?.toFixed(2) ?? null) : null)}
          today={(row, column) => {
            const [step, whom] = [steps[row], able[column]];
            const before = step && askedToday.get(step.id);
            if (!before || !step || !whom) return null;
            return askedFor(before, whom) === askedFor(step, whom) ? null : askedFor(before, whom);
          }}
          onPut={(puts) => attempt("Who does what", (draft) => putNeeds(draft, puts))}
          onArea={({ top }) => steps[top] && select({ kind: "step", id: steps[top]?.id ?? "" })}
        />
      </div>
    </>
  );
}
