/**
 * What comes next at any place of a contact: it opens, or rubs otherwise; or a probe meets what it was before. What was past at the last look that found
 * anything so happens then, though the step that is made anew to end there may end a little before: its polynomial said otherwise by its last digits.
 */

export class Coming {
  /** Of every place how far it is from opening, and from rubbing otherwise, and the least of all gaps: NaN where there is nothing. */
  readonly values: Float64Array;
  /** The least of all. */
  least = Infinity;
  /** Of each of them, but for the gaps, whether it was past; the probes that were; and when that was. */
  private readonly past: Uint8Array;
  private readonly probes: number[] = [];
  private pastAt = NaN;
  private now = NaN;

  /** @param places how many */
  constructor(private readonly places: number) {
    this.values = new Float64Array(2 * places + 1);
    this.past = new Uint8Array(2 * places);
  }
  /** A look begins, at a time. */
  look(t: number): void {
    this.values.fill(NaN);
    this.least = Infinity;
    this.now = t;
  }
  opening(place: number, x: number): void {
    this.tell(2 * place, x);
    if (x < 0) this.past[2 * place] = 1;
  }
  rubbing(place: number, x: number): void {
    this.tell(2 * place + 1, x);
    if (x < 0) this.past[2 * place + 1] = 1;
  }
  /** @param probe that may meet something; left out: none can */
  gap(x: number, probe = -1): void {
    this.tell(2 * this.places, x);
    if (x < 0 && probe >= 0) this.probes.push(probe);
  }
  private tell(slot: number, x: number): void {
    const { values } = this;
    if (!(values[slot]! <= x)) values[slot] = x;
    if (x < this.least) this.least = x;
    if (!(x < 0) || this.now === this.pastAt) return;
    this.forget();
    this.pastAt = this.now;
  }

  opens(place: number): boolean {
    return this.past[2 * place] === 1;
  }
  rubs(place: number): boolean {
    return this.past[2 * place + 1] === 1;
  }
  meets(probe: number): boolean {
    return this.probes.includes(probe);
  }
  /** It has happened. */
  forget(): void {
    this.past.fill(0);
    this.probes.length = 0;
    this.pastAt = NaN;
  }
}
