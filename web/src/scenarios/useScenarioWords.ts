import { useMemo } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useAsTyped } from "../pulse/useAsTyped";
import type { StudyDocument } from "../study/document/types";
import { scenarioOf } from "../study/scenarios/scenarios";
import { useStudy } from "../study/session/store";

/** What the scenarios of a study change, in words, a moment after it was edited. */
export function useScenarioWords(study: StudyDocument): Schemas["ScenarioWords"][] {
  const hasAny = (study.scenarios ?? []).length > 0;
  return (
    useAsTyped("scenarios", study, (body, signal) => (hasAny ? ask(api.POST("/api/scenarios", { body, signal })) : Promise.resolve([])))
      .data ?? []
  );
}

const NOTHING: Schemas["Change"][] = [];

/** What differs from today in the scenario that is seen; nothing where today is seen. */
export function useChangesSeen(): Schemas["Change"][] {
  const whole = useStudy((state) => state.whole);
  const id = useStudy((state) => state.scenario);
  const alone = useMemo(() => {
    const scenario = scenarioOf(whole, id);
    return { ...whole, scenarios: scenario ? [scenario] : [] };
  }, [whole, id]);
  const words = useScenarioWords(alone).find((each) => each.id === id);
  return words?.changes ?? NOTHING;
}
