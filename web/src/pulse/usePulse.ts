import { useEffect } from "react";
import { create } from "zustand";
import { api, type Problem, type Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { happen, useStudy } from "../study/session/store";
import type { Week } from "./weeks";

type Theory = Schemas["Pulse"];
type Weeks = Schemas["Weeks"];

interface PulseState {
  /** What theory says, at once. */
  theory: Theory | null;
  loadsBefore: Theory["loads"] | null;
  /** The weeks that are simulated of `of`, the study as it is or as it was a moment ago: the first ones at once, all of them in time. */
  weeks: Week[];
  of: StudyDocument | null;
  /** The weeks of the study before the last edit; while a scenario is seen, those of the study as it is today. */
  before: Week[];
  /** What is known of the study as it is today, while a scenario of it is seen. */
  today: Today | null;
  /** Why there are no weeks. */
  reasons: string[];
  /** What the weeks show of the study that no health check sees without them. */
  doubts: Problem[];
  /** Whether an answer to the newest edit is still to come. */
  beating: boolean;
}

interface Today {
  of: StudyDocument;
  loads: Theory["loads"] | null;
  weeks: Week[];
}

const STILL: PulseState = {
  theory: null,
  loadsBefore: null,
  weeks: [],
  of: null,
  before: [],
  today: null,
  reasons: [],
  doubts: [],
  beating: false,
};

export const usePulse = create<PulseState>()(() => STILL);

const PAUSE_AFTER_TYPING = 120;
const PAUSE_WHEN_BUSY = 400;

/** Asks for the pulse after every edit. An older answer is never taken over a newer one: it is given up as soon as something is typed. */
export function usePulseBeat(): void {
  const id = useStudy((state) => state.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another study has a pulse of its own.
  useEffect(() => {
    usePulse.setState(STILL);
    let asking = new AbortController();
    let timer = 0;
    const beat = (document: StudyDocument) => {
      clearTimeout(timer);
      asking.abort();
      asking = new AbortController();
      const { signal } = asking;
      usePulse.setState({ beating: true });
      timer = window.setTimeout(() => void ask(document, signal), PAUSE_AFTER_TYPING);
    };
    const stop = useStudy.subscribe((now, before) => {
      if (now.id !== before.id) return;
      if (now.scenario !== before.scenario) usePulse.setState({ ...STILL, today: usePulse.getState().today });
      if (now.document !== before.document || now.scenario !== before.scenario) beat(now.document);
    });
    beat(useStudy.getState().document);
    return () => {
      stop();
      clearTimeout(timer);
      asking.abort();
    };
  }, [id]);
}

async function ask(document: StudyDocument, signal: AbortSignal): Promise<void> {
  try {
    const [told] = await Promise.all([askWeeks(document, signal, false), askTheory(document, signal)]);
    if (!signal.aborted) usePulse.setState({ beating: false });
    if (useStudy.getState().scenario !== null && !signal.aborted) await compareWithToday(signal);
    if (told && told.weeks.length < told.of) await goOn(document, signal);
  } catch (error) {
    if (!signal.aborted) usePulse.setState({ beating: false });
    if (!signal.aborted && !(error instanceof TypeError)) throw error;
  }
}

/** A document as it is asked about: a scenario alone, without the others, which are of the study as it is today. */
function alone(document: StudyDocument): StudyDocument {
  return useStudy.getState().scenario === null ? document : { ...document, scenarios: [], levers: [] };
}

const NOT_SIMULATED = ["scenarios", "levers", "targets", "observed", "board", "sizing", "name", "about"];

/** Whether two documents are of the same service. */
function isSame(one: StudyDocument, other: StudyDocument): boolean {
  const keys = new Set([...Object.keys(one), ...Object.keys(other)]) as Set<keyof StudyDocument>;
  return [...keys].every((key) => NOT_SIMULATED.includes(key) || one[key] === other[key]);
}

/** Sets what is simulated of a scenario beside the study as it is today, of which it is found out first where it is not known. */
async function compareWithToday(signal: AbortSignal): Promise<void> {
  const { whole } = useStudy.getState();
  let { today } = usePulse.getState();
  if (!today || !isSame(today.of, whole)) {
    const body = alone(whole);
    const theory = await api.POST("/api/pulse/theory", { body, signal });
    const weeks = await simulated(body, { at_rest: true }, signal);
    if (!weeks || signal.aborted) return;
    today = { of: whole, loads: theory.data?.pulse.loads ?? null, weeks: weeks.weeks };
  }
  usePulse.setState({ today, before: today.weeks, loadsBefore: today.loads });
}

async function askTheory(document: StudyDocument, signal: AbortSignal): Promise<void> {
  const { data } = await api.POST("/api/pulse/theory", { body: alone(document), signal });
  if (!data || signal.aborted) return;
  const { theory, today } = usePulse.getState();
  const before = useStudy.getState().scenario === null ? theory?.loads : today?.loads;
  usePulse.setState({ theory: data.pulse, loadsBefore: before ?? null });
  happen({ type: "checked", of: document, problems: data.problems });
}

/** Asks for the remaining weeks as long as nothing is typed. */
async function goOn(document: StudyDocument, signal: AbortSignal): Promise<void> {
  let told: Weeks | undefined;
  do told = await askWeeks(document, signal, true);
  while (told && told.weeks.length > 0 && told.first + told.weeks.length < told.of);
}

/** Asks for the weeks that are not known yet: the first ones must be there in a moment, at rest they may take longer. */
async function askWeeks(document: StudyDocument, signal: AbortSignal, atRest: boolean): Promise<Weeks | undefined> {
  const { weeks, of } = usePulse.getState();
  const query = atRest ? { first: of === document ? weeks.length : 0, at_rest: true } : {};
  const data = await simulated(alone(document), query, signal);
  if (data) take(document, data);
  return data;
}

/** Weeks of a document; asked for again where others are simulating. Undefined where nobody waits for them any more. */
async function simulated(
  body: StudyDocument,
  query: { first?: number; at_rest?: boolean },
  signal: AbortSignal,
): Promise<Weeks | undefined> {
  const { data, response } = await api.POST("/api/pulse/simulation", { params: { query }, body, signal });
  if (signal.aborted) return undefined;
  if (response.status !== 503) return data;
  await new Promise((resolve) => setTimeout(resolve, PAUSE_WHEN_BUSY));
  return signal.aborted ? undefined : simulated(body, query, signal);
}

/** Takes weeks over: of a study that was simulated already they are added; what there was of another is what was before. */
function take(document: StudyDocument, { weeks, reasons, doubts }: Weeks): void {
  const state = usePulse.getState();
  const told = weeks.length > 0 ? doubts : state.doubts;
  if (state.of === document) usePulse.setState({ weeks: [...state.weeks, ...weeks], reasons, doubts: told });
  else usePulse.setState({ weeks, of: document, reasons, doubts, before: before(state) });
}

/** What newly simulated weeks are set beside. */
function before({ weeks, before, today }: PulseState): Week[] {
  if (useStudy.getState().scenario !== null) return today?.weeks ?? [];
  return weeks.length > 0 ? weeks : before;
}
