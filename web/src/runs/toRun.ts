import { create } from "zustand";
import { BASELINE_NAME } from "../study/scenarios/scenarios";
import { useStudy } from "../study/session/store";

/** The id under which the server runs the study as it is. */
export const BASELINE = "";

interface LeftOut {
  study: number;
  scenarios: string[];
}

/** What is not to be run of the study that is open: all is, unless it was said otherwise. */
const useLeftOut = create<LeftOut>()(() => ({ study: 0, scenarios: [] }));

export interface Runnable {
  id: string;
  name: string;
  isChosen: boolean;
}

/** The study as it is and its scenarios, and whether they are to be run. */
export function useRunnable(): Runnable[] {
  const study = useStudy((state) => state.id);
  const scenarios = useStudy((state) => state.whole.scenarios);
  const left = useLeftOut();
  const out = left.study === study ? left.scenarios : [];
  const all = [{ id: BASELINE, name: BASELINE_NAME }, ...(scenarios ?? []).map(({ id, name }) => ({ id, name }))];
  return all.map((each) => ({ ...each, isChosen: !out.includes(each.id) }));
}

/** The ids of what is to be run. */
export const useToRun = () =>
  useRunnable()
    .filter((each) => each.isChosen)
    .map((each) => each.id);

/** Says of one of them whether it is to be run. */
export function chooseToRun(id: string, isChosen: boolean): void {
  const { id: study } = useStudy.getState();
  useLeftOut.setState((left) => {
    const before = left.study === study ? left.scenarios.filter((each) => each !== id) : [];
    return { study, scenarios: isChosen ? before : [...before, id] };
  });
}
