import type { Caption, Metadata, NoteFlag } from '../score/piece';
import type { Marker, Score } from '../score/score';
import { lastAtOrBefore } from '../time/tempo-map';
import type { SourceScore } from './source';
import type { ResolvedUse } from './use';

/** A source as it lies in the base: where its own ticks went, and what was added to its note ids. */
export interface PlacedSource {
  readonly use: ResolvedUse;
  readonly score: Score;
  readonly to: (tick: number) => number;
  readonly idOffset: number;
}

/** Something that a source brought and that has no place in the base. */
export interface StaysBehind {
  /** The source, by its name. */
  readonly source: string;
  readonly what: string;
  readonly count: number;
  /** Where it is no other source that rules. */
  readonly because?: string;
}

/** Captions of all, each at the place that its source's notes went to; in tick order. */
export function captionsOf(placed: readonly PlacedSource[]): Caption[] {
  const all = placed.flatMap(({ use, to }) =>
    (use.source.extras?.captions ?? []).map((c) => ({ ...c, tick: to(c.tick) })),
  );
  return all.sort((a, b) => a.tick - b.tick);
}

/** Flags of all. They are found on their own source's ticks, and name notes by ids of the base. */
export function flagsOf(placed: readonly PlacedSource[]): NoteFlag[] {
  const byFlag = new Map<string, Set<number>>();
  for (const { use, idOffset } of placed)
    for (const [flag, ids] of flaggedIn(use.source)) {
      const there = byFlag.get(flag) ?? new Set();
      byFlag.set(flag, there);
      for (const id of ids) there.add(id + idOffset);
    }
  return [...byFlag].map(([flag, notes]) => ({ flag, notes }));
}

function flaggedIn({ extras, score }: SourceScore): Map<string, number[]> {
  const wanted = new Map<string, string[]>();
  for (const { flag, track, channel, tick, key } of extras?.flags ?? []) {
    const place = `${track} ${channel} ${tick} ${key}`;
    wanted.set(place, [...(wanted.get(place) ?? []), flag]);
  }
  const out = new Map<string, number[]>();
  if (wanted.size > 0)
    for (const { track, channel, notes } of score.parts)
      for (let i = 0; i < notes.count; i++) {
        const place = `${track} ${channel} ${notes.start[i]} ${notes.noteNumber[i]}`;
        for (const flag of wanted.get(place) ?? [])
          out.set(flag, [...(out.get(flag) ?? []), notes.id[i]!]);
      }
  return out;
}

/**
 * Markers of all: they are the song's. Those of sources that do not rule stand on the ruling one's
 * first track, so that they stay where the parts of their source are left out. One that several have,
 * with the same words within a 64th of a quarter, is one.
 */
export function markersOf(placed: readonly PlacedSource[], near: number): readonly Marker[] {
  const [ruling, ...others] = placed;
  const markers = [...ruling!.score.conductor.markers];
  const own = markers.length;
  // By stretches of time: what is near stands in the same or in one beside it.
  const known = new Map<string, number[]>();
  const slot = (m: Marker, by = 0) => `${Math.floor(m.tick / near) + by} ${m.text}`;
  const note = (m: Marker) => {
    const there = known.get(slot(m));
    if (there) there.push(m.tick);
    else known.set(slot(m), [m.tick]);
  };
  const isKnown = (m: Marker) =>
    [-1, 0, 1].some((by) =>
      known.get(slot(m, by))?.some((tick) => Math.abs(tick - m.tick) <= near),
    );
  markers.forEach(note);
  for (const { score } of others)
    for (const m of score.conductor.markers) {
      if (isKnown(m)) continue;
      markers.push({ ...m, track: 0, order: 0 });
      note(m);
    }
  if (markers.length === own) return ruling!.score.conductor.markers;
  return markers.sort((a, b) => a.tick - b.tick);
}

/** Of what names a delivery the ruling source lends what it has, the others what it lacks. */
const LENT = ['title', 'maker', 'displayName'] as const;

export function metadataOf(placed: readonly PlacedSource[]): Metadata | undefined {
  const [ruling, ...others] = placed;
  let out = ruling!.use.source.extras?.metadata;
  for (const { use } of others)
    for (const key of LENT) {
      const lent = use.source.extras?.metadata?.[key];
      if (lent !== undefined && out?.[key] === undefined) out = { ...out, [key]: lent };
    }
  return out;
}

/** What a source’s own format tells and no score carries. */
export const untold = (placed: readonly PlacedSource[]): StaysBehind[] =>
  placed.flatMap(({ use: { source } }) =>
    (source.extras?.left ?? []).map((l) => ({
      source: source.name,
      ...l,
      because: 'a score does not carry it',
    })),
  );

/** What the sources that do not rule brought and the base does not hold. */
export function leftBehind(
  placed: readonly PlacedSource[],
  metadata: Metadata | undefined,
): StaysBehind[] {
  const [ruling, ...others] = placed;
  return others.flatMap(({ use, score, to }) => {
    const { conductor, extras } = { conductor: score.conductor, extras: use.source.extras };
    const rule = ruling!.score.conductor;
    const counts: [string, number][] = [
      [
        'tempos',
        otherThan(conductor.tempos, rule.tempos, (t) => `${t?.microsecondsPerQuarter ?? 500_000}`),
      ],
      [
        'meters',
        otherThan(conductor.meters, rule.meters, (m) =>
          m ? `${m.numerator}/${m.denominator}` : '4/4',
        ),
      ],
      ['keys', otherThan(conductor.keys, rule.keys, (k) => k?.bytes.join() ?? '')],
    ];
    for (const [key, value] of Object.entries(extras?.metadata ?? {}))
      if (metadata?.[key as keyof Metadata] !== value) counts.push([`declared ${key}`, 1]);
    const cut = cutAtStart(use.source, to);
    if (cut > 0) counts.push(['captions before the start, moved to it', cut]);
    return counts
      .filter(([, n]) => n > 0)
      .map(([what, n]) => ({ source: use.source.name, what, count: n }));
  });
}

const cutAtStart = ({ extras }: SourceScore, to: (tick: number) => number) => {
  const list = extras?.captions ?? [];
  return list.length > 1 ? list.slice(1).filter((c) => c.tick > 0 && to(c.tick) === 0).length : 0;
};

/** How many of a list say something else than what is in force at their place. */
function otherThan<E extends { readonly tick: number }>(
  list: readonly E[],
  ruling: readonly E[],
  say: (event: E | undefined) => string,
): number {
  const ticks = Float64Array.from(ruling, (e) => e.tick);
  return list.filter((e) => {
    const at = ticks.length > 0 && ticks[0]! <= e.tick ? lastAtOrBefore(ticks, e.tick) : -1;
    return say(e) !== say(ruling[at]);
  }).length;
}

/** A sentence for each source: what of it stays behind and how much, and why. */
export function sayLeftBehind(behind: readonly StaysBehind[]): string[] {
  const lists = new Map<string, string[]>();
  for (const { source, what, count, because = 'another source rules' } of behind) {
    const said = `Left behind of ${source}, as ${because}`;
    lists.set(said, [...(lists.get(said) ?? []), `${what} (${count.toLocaleString('en-GB')})`]);
  }
  return [...lists].map(([said, list]) => `${said}: ${list.join(', ')}.`);
}
