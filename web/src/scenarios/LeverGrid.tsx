import type { StudyDocument } from "../study/document/types";
import { BASELINE_NAME } from "../study/scenarios/scenarios";
import { readLike, todayOf, written } from "../study/scenarios/varying";
import { editWhole, useStudy } from "../study/session/store";
import { Grid } from "../ui/Grid";
import type { Put } from "../ui/gridText";

/** Levers as columns, scenarios as rows, filled in like a spreadsheet; an empty cell is as today. */
export function LeverGrid({ study }: { study: StudyDocument }) {
  const levers = study.levers ?? [];
  const scenarios = study.scenarios ?? [];
  return (
    <div style={{ height: Math.min(420, 60 + 25 * (scenarios.length + 1)) }}>
      <Grid
        label="Where scenarios put the levers"
        corner="Scenario"
        labelWidth={200}
        rows={[
          { id: "+today", label: <i>{BASELINE_NAME}</i>, name: BASELINE_NAME },
          ...scenarios.map(({ id, name }) => ({ id, label: name, name })),
        ]}
        columns={levers.map(({ id, name, scales }) => ({
          id,
          label: scales ? `${name}, ×` : name,
          name,
          width: 150,
          numbers: true,
        }))}
        text={(row, column) => {
          const lever = levers[column];
          if (!lever || row === 0) return null;
          return written(scenarios[row - 1]?.levers?.[lever.id]);
        }}
        note={(row, column) => (row === 0 && levers[column] ? written(todayOf(study, levers[column])) : null)}
        onPut={putLevers}
      />
    </div>
  );
}

/** Takes over what was typed into the grid, all of it or nothing; says what is wrong. */
function putLevers(puts: Put[]): string | null {
  const { whole } = useStudy.getState();
  const read = puts.map(({ row, column, text }) => {
    const [lever, scenario] = [whole.levers?.[column], whole.scenarios?.[row - 1]];
    if (!lever || !scenario) return { problem: "What is as today is changed in the study itself." };
    if (text.trim() === "") return { value: { lever: lever.id, scenario: scenario.id, value: undefined } };
    const value = readLike(todayOf(whole, lever), text);
    return "problem" in value ? value : { value: { lever: lever.id, scenario: scenario.id, value: value.value } };
  });
  const wrong = read.find((each) => "problem" in each);
  if (wrong && "problem" in wrong) return wrong.problem;
  editWhole("Levers of the scenarios", (study) => {
    for (const each of read) {
      if (!("value" in each)) continue;
      const own = study.scenarios?.find(({ id }) => id === each.value.scenario);
      if (!own) continue;
      own.levers = { ...own.levers };
      if (each.value.value === undefined) delete own.levers[each.value.lever];
      else own.levers[each.value.lever] = each.value.value;
    }
  });
  return null;
}
