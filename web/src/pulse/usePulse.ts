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
  /** The weeks of the study before the last edit. */
  before: Week[];
  /** Why there are no weeks. */
  reasons: string[];
  /** What the weeks show of the study that no health check sees without them. */
  doubts: Problem[];
  /** Whether an answer to the newest edit is still to come. */
  beating: boolean;
}

const STILL: PulseState = { theory: null, loadsBefore: null, weeks: [], of: null, before: [], reasons: [], doubts: [], beating: false };

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
      if (now.id === before.id && now.document !== before.document) beat(now.document);
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
    if (told && told.weeks.length < told.of) await goOn(document, signal);
  } catch (error) {
    if (!signal.aborted) usePulse.setState({ beating: false });
    if (!signal.aborted && !(error instanceof TypeError)) throw error;
  }
}

async function askTheory(document: StudyDocument, signal: AbortSignal): Promise<void> {
  const { data } = await api.POST("/api/pulse/theory", { body: document, signal });
  if (!data || signal.aborted) return;
  const { theory } = usePulse.getState();
  usePulse.setState({ theory: data.pulse, loadsBefore: theory?.loads ?? null });
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
  const { data, response } = await api.POST("/api/pulse/simulation", { params: { query }, body: document, signal });
  if (signal.aborted) return undefined;
  if (response.status === 503) {
    await new Promise((resolve) => setTimeout(resolve, PAUSE_WHEN_BUSY));
    return signal.aborted ? undefined : askWeeks(document, signal, atRest);
  }
  if (data) take(document, data);
  return data;
}

/** Takes weeks over: of a study that was simulated already they are added; what there was of another is what was before. */
function take(document: StudyDocument, { weeks, reasons, doubts }: Weeks): void {
  const state = usePulse.getState();
  const told = weeks.length > 0 ? doubts : state.doubts;
  if (state.of === document) usePulse.setState({ weeks: [...state.weeks, ...weeks], reasons, doubts: told });
  else usePulse.setState({ weeks, of: document, reasons, doubts, before: state.weeks.length > 0 ? state.weeks : state.before });
}
