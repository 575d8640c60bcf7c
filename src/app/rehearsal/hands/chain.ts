import { bisector } from 'd3-array';
import type { Happening } from '../../../core/standin/played';
import type { Doing, Hands, Pressed, Sounding } from './hands';

const rightOf = bisector((e: Happening) => e.atUs).right;
const leftOf = bisector((e: Happening) => e.atUs).left;

/** A chain from its first link to its last, or from any link on: links follow without a gap. */
export class ChainHands implements Hands {
  readonly clock = 'own';
  readonly doings: readonly Doing[] = [
    { id: 'start', says: 'Start or stop the chain', codes: ['Space', 'Pad0', 'Note48'] },
    { id: 'back', says: 'The link before', codes: ['ArrowLeft', 'Pad4', 'Note50'] },
    { id: 'on', says: 'The next link', codes: ['ArrowRight', 'Pad5', 'Note52'] },
  ];
  private readonly links: readonly Happening[];
  private readonly notes: readonly Happening[];
  private readonly endUs: number;
  /** Where in the chain its clock stood when it was begun; null at rest. */
  private begun: { atUs: number; placeUs: number } | null = null;
  private restUs = 0;
  private passedUs = 0;

  constructor(events: readonly Happening[]) {
    this.links = events.filter((e) => e.kind === 'pattern');
    this.notes = events.filter((e) => e.kind === 'note');
    const last = this.links.at(-1);
    this.endUs = last ? last.atUs + (last.lengthUs ?? 0) : 0;
  }

  /** Where in the chain it is, at a time of the device's clock. */
  placeUs = (us: number): number =>
    this.begun ? Math.min(this.endUs, this.begun.placeUs + us - this.begun.atUs) : this.restUs;

  link = (us: number): number => rightOf(this.links as Happening[], this.placeUs(us)) - 1;

  press(doing: string, atUs: number): Pressed {
    const place = this.placeUs(atUs);
    if (doing === 'start') {
      if (this.begun) {
        this.restUs = place;
        this.begun = null;
      } else this.from(place >= this.endUs ? 0 : place, atUs);
    } else {
      const at = this.link(atUs) + (doing === 'on' ? 1 : -1);
      const to = this.links[Math.max(0, Math.min(this.links.length - 1, at))]?.atUs ?? 0;
      if (this.begun) this.from(to, atUs);
      else this.restUs = to;
    }
    return { doing, atUs, errorUs: null };
  }
  release() {}

  private from(placeUs: number, atUs: number) {
    this.begun = { placeUs, atUs };
    this.passedUs = atUs;
  }

  pass(toUs: number): readonly Sounding[] {
    const { begun } = this;
    const from = this.passedUs;
    this.passedUs = Math.max(from, toUs);
    if (!begun || toUs <= from) return [];
    const by = begun.atUs - begun.placeUs;
    const first = leftOf(this.notes as Happening[], from - by);
    const last = leftOf(this.notes as Happening[], toUs - by);
    if (toUs - by >= this.endUs) {
      this.begun = null;
      this.restUs = 0;
    }
    return this.notes.slice(first, last).map((e) => ({
      atUs: e.atUs + by,
      lengthUs: Math.max(1000, e.lengthUs ?? 0),
      seat: e.seat,
      key: e.key,
      velocity: typeof e.value === 'number' ? e.value : 96,
      file: e.file,
    }));
  }

  says(): string {
    const at = this.link(this.passedUs);
    const link = this.links[at];
    const where = link ? `link ${at + 1} of ${this.links.length}, pattern ${link.text}` : 'no link';
    return this.begun ? `Plays ${where}.` : `At rest at ${where}.`;
  }
}
