import type { Outline } from "../api/queries";
import type { Piece } from "./piece";
import { Scene } from "./scene";

/** So many pieces are kept. */
const MOST_KEPT = 24;

/** So many pieces are fetched before they are looked at, one at a time. */
const AHEAD = 3;

/** So long, in milliseconds, a piece that could not be had is not asked for again. */
const PAUSE_AFTER_TROUBLE = 1500;

export type Fetch = (begins: number, ends: number) => Promise<Piece>;

/** A replay piece by piece: fetches what is looked at, and what comes next, and says what is seen at a moment. */
export class Reel {
  private readonly pieces = new Map<number, Piece>();
  private readonly asked = new Set<number>();
  private scene: Scene | null = null;
  private time = 0;

  constructor(
    private readonly outline: Pick<Outline, "piece" | "ends">,
    private readonly fetch: Fetch,
    private readonly onCome: (error?: unknown) => void,
  ) {}

  /** What is seen at a moment; null until its piece has come. */
  at(moment: number): Scene | null {
    const number = this.numberOf(moment);
    const piece = this.pieces.get(number);
    this.ask(number);
    if (!piece) return null;
    for (let ahead = 1; ahead <= AHEAD && this.asked.size === 0; ahead++) this.ask(number + ahead);
    if (this.scene?.piece !== piece || moment < this.time) this.scene = new Scene(piece);
    this.scene.goTo(moment);
    this.time = moment;
    return this.scene;
  }

  /** When something happens next, or before; never, or at the start, where nothing does; null while its piece has not come. */
  next(moment: number, forward: boolean): number | null {
    const number = this.numberOf(moment);
    for (let at = number; at >= 0 && at <= this.last; at += forward ? 1 : -1) {
      const piece = this.pieces.get(at);
      if (!piece) {
        this.ask(at);
        return null;
      }
      const times = piece.lines.at;
      const found = forward ? times.find((time) => time > moment) : times.findLast((time) => time < moment);
      if (found !== undefined) return found;
    }
    return forward ? Number.POSITIVE_INFINITY : 0;
  }

  private get last(): number {
    return Math.max(0, Math.ceil(this.outline.ends / this.outline.piece) - 1);
  }

  private numberOf(moment: number): number {
    return Math.min(this.last, Math.floor(moment / this.outline.piece));
  }

  private ask(number: number): void {
    if (number > this.last || this.pieces.has(number) || this.asked.has(number)) return;
    this.asked.add(number);
    const { piece } = this.outline;
    this.fetch(number * piece, (number + 1) * piece).then(
      (found) => {
        this.keep(number, found);
        this.onCome();
      },
      (error: unknown) => {
        setTimeout(() => {
          this.asked.delete(number);
          this.onCome(error);
        }, PAUSE_AFTER_TROUBLE);
        this.onCome(error);
      },
    );
  }

  private keep(number: number, piece: Piece): void {
    this.asked.delete(number);
    this.pieces.set(number, piece);
    for (const each of this.pieces.keys()) {
      if (this.pieces.size <= MOST_KEPT) break;
      if (Math.abs(each - number) > 1) this.pieces.delete(each);
    }
  }
}
