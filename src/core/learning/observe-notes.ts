import { notesTogether, type LineNotes } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import type { Maps } from '../score/inventory';
import { endTickOf, type Part, type Score } from '../score/score';
import type { Put } from './numbers';
import { Window } from './window';

/** Parts of a beat that notes may be bound to, the coarsest first. */
export const GRIDS = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48] as const;

/** What its notes say: keys, velocities, how many, how soon and how long, by channel and in all. */
export function observeNotes(score: Score, maps: Maps, put: Put): void {
  const parts = score.parts.filter((p) => p.notes.count > 0);
  const channels = [...new Set(parts.map((p) => p.channel))].sort((a, b) => a - b);
  put('channels', channels);
  put('note-tracks', new Set(parts.map((p) => p.track)).size);
  let total = 0;
  const keys = new Uint8Array(128);
  const velocities = new Uint8Array(128);
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      total++;
      keys[notes.noteNumber[i]!] = 1;
      velocities[notes.velocity[i]!] = 1;
    }
  put('notes', total);
  if (total === 0) return;
  const there = (flags: Uint8Array) => [...flags.keys()].filter((k) => flags[k] === 1);
  put('keys', there(keys));
  put('velocities', there(velocities));
  put('alike', parts.filter(({ notes }) => isAlike(notes.velocity)).length);
  observeGrid(parts, maps, put);
  const most = new Most();
  const groups = channels.map((c) => parts.filter((p) => p.channel === c));
  for (const group of groups) most.channel(notesTogether(group), maps);
  most.together(notesTogether(parts), parts);
  for (const [id, value] of most.values()) put(id, value);
  put('filled', (most.barsFilled.size * 100) / maps.bars.barCount(endTickOf(score)));
}

const isAlike = (velocities: Uint8Array) =>
  velocities.length >= 8 && velocities.every((v) => v === velocities[0]);

/** How many notes stand off each grid of the beat. */
function observeGrid(parts: readonly Part[], { bars }: Maps, put: Put) {
  const off = GRIDS.map(() => 0);
  for (const { notes } of parts) {
    let [from, to, beat] = [0, -1, 1];
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      if (start >= to || start < from) {
        const bar = bars.barAt(start);
        [from, to] = [bars.barStart(bar), bars.barStart(bar + 1)];
        beat = Math.max(1, (to - from) / bars.meterAt(from).numerator);
      }
      const place = ((start - from) % beat) / beat;
      GRIDS.forEach((n, g) => {
        const times = place * n;
        if (Math.abs(times - Math.round(times)) > 1e-4 * n) off[g]!++;
      });
    }
  }
  GRIDS.forEach((n, g) => put(`off-grid-${n}`, off[g]!));
}

/** The extremes of all channels, and of all of them together. */
class Most {
  private readonly most = new Map<string, number>();
  private readonly least = new Map<string, number>();
  readonly barsFilled = new Set<number>();
  private up(id: string, value: number) {
    if (value > (this.most.get(id) ?? -Infinity)) this.most.set(id, value);
  }
  private down(id: string, value: number) {
    if (value < (this.least.get(id) ?? Infinity)) this.least.set(id, value);
  }
  values = (): [string, number][] => [...this.most, ...this.least];

  channel(notes: LineNotes, { clock, bars }: Maps) {
    const sounding = new Sounding(notes);
    const lastOnKey = new Map<number, number>();
    const second = new Window();
    let [before, run, chord, silentSince] = [-1, 0, 0, -Infinity];
    let [bar, barEnd] = [-1, -1];
    let [inBar, strikesInBar] = [0, 0];
    const keysInBar = new Set<number>();
    const used = new Set<number>();
    for (let i = 0; i < notes.count; i++) {
      const start = notes.start[i]!;
      const end = notes.end[i]!;
      const key = notes.noteNumber[i]!;
      const ms = clock.msAt(start);
      const isNew = before < 0 || start !== notes.start[before];
      sounding.until(start);
      if (end > start) sounding.add(i);
      this.up('together', sounding.count);
      this.up('span', sounding.span);
      const length = clock.msAt(end) - ms;
      this.down('shortest-ms', length);
      this.up('longest-ms', length);
      const was = lastOnKey.get(key);
      if (was !== undefined) this.down('same-key-ms', ms - was);
      lastOnKey.set(key, ms);
      if (before >= 0) {
        this.up('leap', Math.abs(key - notes.noteNumber[before]!));
        if (isNew) {
          this.down('apart-ms', ms - clock.msAt(notes.start[before]!));
          this.down('gap', Math.max(0, ms - clock.msAt(silentSince)));
        }
      }
      if (isNew) this.up('strikes-second', second.add(ms));
      chord = isNew ? 1 : chord + 1;
      this.up('chord', chord);
      run = before >= 0 && key === notes.noteNumber[before] ? run + 1 : 1;
      this.up('run', run);
      if (start >= barEnd) {
        bar = bars.barAt(start);
        barEnd = bars.barStart(bar + 1);
        [inBar, strikesInBar] = [0, 0];
        keysInBar.clear();
        this.barsFilled.add(bar);
      }
      used.add(key);
      keysInBar.add(key);
      this.up('bar-notes', ++inBar);
      if (isNew) strikesInBar++;
      this.up('bar-strikes', strikesInBar);
      this.up('bar-keys', keysInBar.size);
      silentSince = Math.max(silentSince, end);
      before = i;
    }
    this.up('channel-keys', used.size);
  }

  /** Over all channels: how many sound, and whether two of them have one key at once. */
  together(notes: LineNotes, parts: readonly Part[]) {
    const sounding = new Sounding(notes);
    const channelOf = new Map<number, number>();
    for (const p of parts)
      for (let i = 0; i < p.notes.count; i++) channelOf.set(p.notes.id[i]!, p.channel);
    const onKey = new Map<number, { end: number; channel: number }>();
    let shared = 0;
    for (let i = 0; i < notes.count; i++) {
      sounding.until(notes.start[i]!);
      if (notes.end[i]! > notes.start[i]!) sounding.add(i);
      this.up('together-all', sounding.count);
      const channel = channelOf.get(notes.id[i]!) ?? 0;
      const there = onKey.get(notes.noteNumber[i]!);
      if (there && there.end > notes.start[i]! && there.channel !== channel) shared++;
      onKey.set(notes.noteNumber[i]!, { end: notes.end[i]!, channel });
    }
    this.up('shared-keys', shared);
    this.up('all-keys', new Set(notes.noteNumber).size);
  }
}
