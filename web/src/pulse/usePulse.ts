import { useEffect } from "react";
import { create } from "zustand";
import { api, type Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { happen, useStudy } from "../study/session/store";

export type Pulse = Schemas["Pulse"];

interface PulseState {
  /** What theory says, at once. */
  theory: Pulse | null;
  /** What the quick simulation says, a moment later; what it said last while the next one is on its way. */
  simulated: Pulse | null;
  /** What was said before the edit. */
  before: Pulse | null;
  loadsBefore: Record<string, number | null> | null;
  /** Whether an answer to the newest edit is still to come. */
  beating: boolean;
}

const STILL: PulseState = { theory: null, simulated: null, before: null, loadsBefore: null, beating: false };

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
    await Promise.all([askTheory(document, signal), askSimulation(document, signal)]);
  } catch (error) {
    if (!signal.aborted && !(error instanceof TypeError)) throw error;
  }
  if (!signal.aborted) usePulse.setState({ beating: false });
}

async function askTheory(document: StudyDocument, signal: AbortSignal): Promise<void> {
  const { data } = await api.POST("/api/pulse/theory", { body: document, signal });
  if (!data || signal.aborted) return;
  const { theory } = usePulse.getState();
  usePulse.setState({ theory: data.pulse, loadsBefore: theory?.loads ?? null });
  happen({ type: "checked", of: document, problems: data.problems });
}

async function askSimulation(document: StudyDocument, signal: AbortSignal): Promise<void> {
  const { data, response } = await api.POST("/api/pulse/simulation", { body: document, signal });
  if (signal.aborted) return;
  if (response.status === 503) {
    await new Promise((resolve) => setTimeout(resolve, PAUSE_WHEN_BUSY));
    if (!signal.aborted) await askSimulation(document, signal);
    return;
  }
  const { simulated } = usePulse.getState();
  if (data) usePulse.setState({ simulated: data, before: simulated });
}
