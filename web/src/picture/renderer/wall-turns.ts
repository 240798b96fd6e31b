import { rate } from "../../store/moment";
import type { Sight } from "../sight";
import { useWallPace } from "../wall";

/** Slower than this many frames' time a picture is late, and after so many that were not, there is time for more. */
const LATE = 1.25;
const IN_TIME = 12;

/**
 * Which pictures of the wall are drawn while it plays: the first one, which is on air, each time; the others by turns,
 * as many at a time as there is time for.
 */
export class WallTurns {
  private at = 0;
  private many = Number.POSITIVE_INFINITY;
  private last = 0;
  private good = 0;
  private drawn = "";

  /** Whether no fewer can be drawn at a time. */
  get fewest(): boolean {
    return this.many <= 1;
  }

  /** Those to be drawn now. On another wall, or after a rest (`mark`), all of them. */
  next(all: Sight[], mark: string): Sight[] {
    const now = performance.now();
    const took = now - this.last;
    this.last = now;
    const [first, ...others] = all;
    if (mark !== this.drawn) {
      this.drawn = mark;
      this.good = 0;
      return all;
    }
    this.pace(took, others.length);
    const many = Math.min(this.many, others.length);
    const turns = Array.from({ length: many }, (_, i) => others[(this.at + i) % others.length]);
    this.at = (this.at + many) % Math.max(others.length, 1);
    const every = Math.ceil(others.length / Math.max(many, 1));
    if (useWallPace.getState().every !== every) useWallPace.setState({ every });
    return [first, ...turns];
  }

  private pace(took: number, others: number): void {
    const frame = 1000 / rate();
    const many = Math.min(this.many, others);
    if (took > frame * LATE) {
      this.good = 0;
      this.many = Math.max(Math.min(many - 1, Math.floor((many * frame) / took)), 1);
    } else if (++this.good > IN_TIME && many < others) {
      this.good = 0;
      this.many = many + 1;
    }
  }
}
