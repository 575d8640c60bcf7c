import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { isKnownMeta, isTextMeta, mapsOf } from '../score/inventory';
import { endTickOf, firstTickOf } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import type { SourceScore } from '../sources/source';
import { bpmOf } from '../time/tempo-map';

/**
 * What of a file a target may be strict about: what it says, the path that it sets, how it bounds, and
 * how usual it is that a target is strict about it, of ten.
 */
export const FEATURES = {
  format: { says: 'SMF format', unit: '', path: 'file.formats', as: 'one-of', usual: 9 },
  ppq: { says: 'PPQ', unit: '', path: 'file.ppq', as: 'ppq', usual: 9 },
  channels: {
    says: 'channels with notes',
    unit: '',
    path: 'channels.only',
    as: 'all-of',
    usual: 9,
  },
  'first-ms': { says: 'the first note', unit: 'ms', path: 'start.leadInMs', as: 'least', usual: 9 },
  'first-bar': {
    says: 'bars of rest first',
    unit: 'bars',
    path: 'start.leadInBars',
    as: 'least',
    usual: 6,
  },
  lowest: { says: 'the lowest note', unit: '', path: 'notes.lowest', as: 'least', usual: 9 },
  highest: { says: 'the highest note', unit: '', path: 'notes.highest', as: 'most', usual: 9 },
  'slowest-bpm': {
    says: 'the slowest tempo',
    unit: 'BPM',
    path: 'tempo.lowestBpm',
    as: 'least',
    usual: 8,
  },
  'fastest-bpm': {
    says: 'the fastest tempo',
    unit: 'BPM',
    path: 'tempo.highestBpm',
    as: 'most',
    usual: 8,
  },
  tempos: { says: 'tempos', unit: '', path: 'tempo.mostEvents', as: 'most', usual: 8 },
  meters: { says: 'meters', unit: '', path: 'meter.constant', as: 'single', usual: 5 },
  together: {
    says: 'notes at once on a channel',
    unit: '',
    path: 'polyphony.together',
    as: 'most',
    usual: 9,
  },
  'together-all': {
    says: 'notes at once in all',
    unit: '',
    path: 'polyphony.all',
    as: 'most',
    usual: 7,
  },
  'same-key-ms': {
    says: 'from a key to the same key',
    unit: 'ms',
    path: 'spacing.sameKeyApartMs',
    as: 'least',
    usual: 7,
  },
  'apart-ms': {
    says: 'between two strikes of a channel',
    unit: 'ms',
    path: 'spacing.apartMs',
    as: 'least',
    usual: 6,
  },
  'strikes-second': {
    says: 'strikes in a second',
    unit: '',
    path: 'spacing.strikesASecond',
    as: 'most',
    usual: 7,
  },
  'shortest-ms': {
    says: 'the shortest note',
    unit: 'ms',
    path: 'length.shortestMs',
    as: 'least',
    usual: 7,
  },
  'longest-ms': {
    says: 'the longest note',
    unit: 'ms',
    path: 'length.longestMs',
    as: 'most',
    usual: 5,
  },
  softest: { says: 'the softest note', unit: '', path: 'velocity.lowest', as: 'least', usual: 5 },
  hardest: { says: 'the hardest note', unit: '', path: 'velocity.highest', as: 'most', usual: 5 },
  notes: { says: 'notes in all', unit: '', path: 'notes.most', as: 'most', usual: 6 },
  bars: { says: 'bars', unit: '', path: 'end.mostBars', as: 'most', usual: 6 },
  'whole-bars': {
    says: 'ticks past the last bar line',
    unit: '',
    path: 'end.wholeBars',
    as: 'none',
    usual: 6,
  },
  'note-tracks': {
    says: 'tracks with notes',
    unit: '',
    path: 'file.mostNoteTracks',
    as: 'most',
    usual: 6,
  },
  bytes: { says: 'bytes of the file', unit: '', path: 'file.mostBytes', as: 'most', usual: 3 },
  controllers: { says: 'controllers', unit: '', path: 'events.controllers', as: 'none', usual: 7 },
  programs: { says: 'program changes', unit: '', path: 'events.programs', as: 'none', usual: 7 },
  bends: { says: 'pitch bends', unit: '', path: 'events.bends', as: 'none', usual: 7 },
  aftertouch: { says: 'aftertouch', unit: '', path: 'events.aftertouch', as: 'none', usual: 5 },
  sysex: {
    says: 'system exclusive messages',
    unit: '',
    path: 'events.sysex',
    as: 'none',
    usual: 7,
  },
  'unknown-meta': {
    says: 'unknown meta events',
    unit: '',
    path: 'events.unknownMeta',
    as: 'none',
    usual: 4,
  },
  markers: { says: 'markers', unit: '', path: 'text.markers', as: 'none', usual: 5 },
  texts: { says: 'lyrics and other text', unit: '', path: 'text.others', as: 'none', usual: 5 },
  'track-names': {
    says: 'track names',
    unit: '',
    path: 'text.mostTrackNames',
    as: 'most',
    usual: 3,
  },
  run: { says: 'one key in a row', unit: 'notes', path: 'limits.run', as: 'most', usual: 4 },
  leap: {
    says: 'the widest interval',
    unit: 'semitones',
    path: 'limits.interval',
    as: 'most',
    usual: 3,
  },
} as const;
export type FeatureId = keyof typeof FEATURES;
export const FEATURE_IDS = Object.keys(FEATURES) as FeatureId[];

/** All that is measured of one file; a feature that it has nothing of is not there. */
export function featuresOf(
  { score, head }: SourceScore,
  bytes?: number,
): ReadonlyMap<FeatureId, readonly number[]> {
  const out = new Map<FeatureId, readonly number[]>();
  const set = (id: FeatureId, ...values: number[]) => out.set(id, values);
  const { clock, bars } = mapsOf(score);
  const parts = score.parts.filter((p) => p.notes.count > 0);
  const channels = [...new Set(parts.map((p) => p.channel))].sort((a, b) => a - b);
  set('format', head.format);
  if (score.division.kind === 'ppq') set('ppq', score.division.ticksPerQuarter);
  set('channels', ...channels);
  const first = firstTickOf(score);
  if (first !== null) {
    set('first-ms', clock.msAt(first));
    set('first-bar', bars.barAt(first));
  }
  const { tempos, meters, markers } = score.conductor;
  const bpms = tempos.map((t) => bpmOf(t.microsecondsPerQuarter));
  if (!tempos.some((t) => t.tick === 0)) bpms.push(120);
  set(
    'slowest-bpm',
    bpms.reduce((a, b) => Math.min(a, b)),
  );
  set(
    'fastest-bpm',
    bpms.reduce((a, b) => Math.max(a, b)),
  );
  set('tempos', Math.max(1, tempos.length));
  set('meters', Math.max(1, new Set(meters.map((m) => `${m.numerator}/${m.denominator}`)).size));
  const end = endTickOf(score);
  set('bars', bars.barCount(end));
  const line = bars.barStart(bars.barAt(end));
  set('whole-bars', end - line);
  set('note-tracks', new Set(parts.map((p) => p.track)).size);
  if (bytes !== undefined) set('bytes', bytes);

  let low = Infinity;
  let high = -Infinity;
  let soft = Infinity;
  let hard = -Infinity;
  let total = 0;
  for (const { notes } of parts)
    for (let i = 0; i < notes.count; i++) {
      total++;
      low = Math.min(low, notes.noteNumber[i]!);
      high = Math.max(high, notes.noteNumber[i]!);
      soft = Math.min(soft, notes.velocity[i]!);
      hard = Math.max(hard, notes.velocity[i]!);
    }
  set('notes', total);
  if (total > 0) {
    set('lowest', low);
    set('highest', high);
    set('softest', soft);
    set('hardest', hard);
    const groups = [...channels.map((c) => parts.filter((p) => p.channel === c)), parts];
    let [together, all, again, apart, strikes, shortest, longest, run, leap] = [
      1,
      1,
      Infinity,
      Infinity,
      1,
      Infinity,
      0,
      1,
      0,
    ];
    groups.forEach((group, g) => {
      const whole = g === groups.length - 1;
      const notes = notesTogether(group);
      const sounding = new Sounding(notes);
      const last = new Map<number, number>();
      let before = -1;
      let key = -1;
      let runs = 0;
      const second: number[] = [];
      for (let i = 0; i < notes.count; i++) {
        const start = notes.start[i]!;
        const ms = clock.msAt(start);
        sounding.until(start);
        if (notes.end[i]! > start) sounding.add(i);
        if (whole) {
          all = Math.max(all, sounding.count);
          continue;
        }
        together = Math.max(together, sounding.count);
        const length = clock.msAt(notes.end[i]!) - ms;
        shortest = Math.min(shortest, length);
        longest = Math.max(longest, length);
        const own = notes.noteNumber[i]!;
        const was = last.get(own);
        if (was !== undefined) again = Math.min(again, ms - was);
        last.set(own, ms);
        if (before >= 0 && start !== notes.start[before]) {
          apart = Math.min(apart, ms - clock.msAt(notes.start[before]!));
          leap = Math.max(leap, Math.abs(own - notes.noteNumber[before]!));
        }
        if (before < 0 || start !== notes.start[before]) {
          while (second.length > 0 && ms - second[0]! >= 1000 - 1e-6) second.shift();
          second.push(ms);
          strikes = Math.max(strikes, second.length);
        }
        before = i;
        runs = own === key ? runs + 1 : 1;
        key = own;
        run = Math.max(run, runs);
      }
    });
    set('together', together);
    set('together-all', all);
    if (Number.isFinite(again)) set('same-key-ms', again);
    if (Number.isFinite(apart)) set('apart-ms', apart);
    set('strikes-second', strikes);
    set('shortest-ms', shortest);
    set('longest-ms', longest);
    set('run', run);
    set('leap', leap);
  }
  const kinds = new Map<number, number>();
  for (const { events } of score.parts)
    for (let i = 0; i < events.count; i++)
      kinds.set(events.kind[i]!, (kinds.get(events.kind[i]!) ?? 0) + 1);
  const of = (...k: number[]) => k.reduce((n, kind) => n + (kinds.get(kind) ?? 0), 0);
  set('controllers', of(0xb0));
  set('programs', of(0xc0));
  set('bends', of(0xe0));
  set('aftertouch', of(0xa0, 0xd0));
  const metas = score.tracks.flatMap((t) => t.events);
  set('sysex', metas.filter((e) => e.status !== META).length);
  set(
    'unknown-meta',
    metas.filter((e) => e.status === META && !isKnownMeta(e.type) && !isTextMeta(e.type)).length,
  );
  set('markers', markers.length);
  const texts = metas.filter((e) => e.status === META && isTextMeta(e.type));
  set('texts', texts.filter((e) => e.type !== META_TRACK_NAME).length);
  set('track-names', texts.filter((e) => e.type === META_TRACK_NAME).length);
  return out;
}
