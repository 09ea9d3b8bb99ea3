import type { Reel } from "./reel";
import { LONGEST_GLIDE, type Scene } from "./scene";

/** What a simulated minute takes, in seconds, from real time to a week a second. */
export const PACES: { seconds: number; label: string }[] = [
  { seconds: 60, label: "60 s: real time" },
  { seconds: 10, label: "10 s" },
  { seconds: 2, label: "2 s" },
  { seconds: 1, label: "1 s" },
  { seconds: 0.5, label: "0.5 s" },
  { seconds: 0.2, label: "0.2 s" },
  { seconds: 0.1, label: "0.1 s" },
  { seconds: 1 / 60, label: "0.017 s: an hour a second" },
  { seconds: 1 / 1440, label: "0.0007 s: a day a second" },
  { seconds: 1 / 10080, label: "0.0001 s: a week a second" },
];
const USUAL = 5;
/** So long, in seconds, somebody glides who goes on without taking time. */
const GLIDE = 0.3;

/** With motion reduced the picture changes so often a second. */
const CALM = 2;

/** Plays one replay, or several on the same clock: holds the moment, lets it run at a pace, and tells who listens when it is another. */
export class Player {
  playing = false;
  pace = USUAL;
  private listeners = new Set<() => void>();
  private frame = 0;
  private last = 0;
  private told = 0;
  /** Whether a step on, or back, waits for its piece. */
  private wanted: boolean | null = null;

  constructor(
    readonly reels: readonly Reel[],
    readonly ends: number,
    public moment: number,
    private readonly isCalm: boolean,
  ) {}

  /** What is seen now; null while that has not come yet. */
  get scene(): Scene | null {
    return this.sceneOf(0);
  }

  /** What is seen now of one of those that are played beside each other. */
  sceneOf(side: number): Scene | null {
    return this.reels[side]?.at(this.moment) ?? null;
  }

  /** For how many minutes somebody glides at this pace. */
  get glide(): number {
    return this.isCalm ? 0 : Math.min(LONGEST_GLIDE, GLIDE / this.seconds);
  }

  private get hasCome(): boolean {
    return this.reels.every((reel) => reel.at(this.moment));
  }

  private get seconds(): number {
    return PACES[this.pace]?.seconds ?? 1;
  }

  listen(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Ends when what is seen at the moment has come and everybody who listens has shown it. */
  async settled(): Promise<void> {
    if (this.hasCome) return;
    await new Promise<void>((resolve) => {
      const deaf = this.listen(() => {
        if (!this.hasCome) return;
        deaf();
        resolve();
      });
    });
  }

  tell(): void {
    for (const listener of this.listeners) listener();
  }

  play(playing: boolean): void {
    this.playing = playing && this.moment < this.ends;
    cancelAnimationFrame(this.frame);
    this.last = 0;
    if (this.playing) this.frame = requestAnimationFrame(this.tick);
    this.tell();
  }

  goTo(moment: number): void {
    this.moment = Math.min(this.ends, Math.max(0, moment));
    this.tell();
  }

  /** Goes to the next event, or to the one before; where its piece has not come yet, as soon as it has. */
  step(forward: boolean): void {
    this.play(false);
    const times = this.reels.map((reel) => reel.next(this.moment, forward));
    const known = times.filter((time) => time !== null);
    this.wanted = known.length < times.length ? forward : null;
    if (this.wanted === null) this.goTo(forward ? Math.min(...known) : Math.max(...known));
  }

  /** Another piece has come. */
  come(): void {
    if (this.wanted !== null) this.step(this.wanted);
    else this.tell();
  }

  faster(by: number): void {
    this.pace = Math.min(PACES.length - 1, Math.max(0, this.pace + by));
    this.tell();
  }

  private tick = (now: number): void => {
    const passed = this.last ? Math.min(0.25, (now - this.last) / 1000) : 0;
    this.last = now;
    if (this.hasCome) this.moment = Math.min(this.ends, this.moment + passed / this.seconds);
    if (!this.isCalm || now - this.told > 1000 / CALM) {
      this.told = now;
      this.tell();
    }
    if (this.moment >= this.ends) this.play(false);
    else this.frame = requestAnimationFrame(this.tick);
  };
}
