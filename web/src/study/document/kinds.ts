import type { StepKind } from "./types";

/** How each kind of step is called: as a title, inside a sentence, and where one is offered. */
export const KIND_WORDS: Record<StepKind, { title: string; word: string; offer: string }> = {
  serve: { title: "Step", word: "step", offer: "A step with work" },
  delay: { title: "Delay", word: "delay", offer: "A delay" },
  signal: { title: "Signal", word: "signal", offer: "A signal: cases wait until it clears" },
  choose: { title: "Parting of ways", word: "parting of ways", offer: "A parting of ways" },
  fork: { title: "Fork", word: "fork", offer: "A fork, with its join" },
  join: { title: "Join", word: "join", offer: "A join" },
  gather: { title: "Gathering", word: "gathering", offer: "A gathering of several cases" },
  scatter: { title: "Scattering", word: "scattering", offer: "A scattering of what was gathered" },
  set: { title: "Trait set", word: "trait set", offer: "Writing a trait" },
  exit: { title: "Exit", word: "exit", offer: "An exit" },
};
