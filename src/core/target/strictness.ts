import { sayBounds, sayMeasure } from './limit-schema';
import { factWords, sayFact } from './facts';
import type { Seat, Target } from './schema';
import { count, noteName, plain } from './words';

/** One thing that a target is strict about, in a line; `block` names the data it comes from. */
export interface Strictness {
  readonly block: keyof Target;
  readonly says: string;
}

const list = (items: readonly (string | number)[], most = 8) =>
  items.length > most
    ? `${items.slice(0, most - 1).join(', ')} … ${items.at(-1)}`
    : items.join(', ');

/** Whole numbers with runs drawn together: 24–31, 48–76. */
export function runs(numbers: readonly number[]): string {
  const out: string[] = [];
  const sorted = [...numbers].sort((a, b) => a - b);
  for (let i = 0; i < sorted.length;) {
    let k = i;
    while (k + 1 < sorted.length && sorted[k + 1] === sorted[k]! + 1) k++;
    out.push(k > i + 1 ? `${sorted[i]}–${sorted[k]}` : sorted.slice(i, k + 1).join(', '));
    i = k + 1;
  }
  return list(out);
}

const keyRange = (low: number, high: number) =>
  `notes ${low}–${high} (${noteName(low)}–${noteName(high)})`;

function sayKeys(keys: {
  lowest?: number | undefined;
  highest?: number | undefined;
  only?: number[] | undefined;
  without?: number[] | undefined;
}): string {
  if (keys.only) return `${keys.only.length} keys: ${runs(keys.only)}`;
  const { lowest = 0, highest = 127, without } = keys;
  return keyRange(lowest, highest) + (without?.length ? ` without ${list(without)}` : '');
}

function saySeats(seats: readonly Seat[]): string {
  const files = seats.filter((s) => s.kind === 'file');
  if (files.length > 0)
    return `${files.length} places, each a file: ${list(
      files.map((f) => f.fileName),
      6,
    )}`;
  const one = (s: Seat) =>
    'channel' in s ? `${s.name} (channel ${s.channel})` : `${s.name} (track)`;
  return seats.length === 1
    ? `one seat: ${one(seats[0]!)}`
    : `${seats.length} seats: ${list(seats.map(one), 5)}`;
}

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** The keys of a rung: its own, or those of the seats that are it. */
const lanesOf = (t: Target, r: { rung: number; laneNotes?: readonly number[] | undefined }) =>
  r.laneNotes ??
  t.seats.flatMap((s) => (s.kind === 'laneGroup' && s.rung === r.rung ? [s.laneNotes] : []))[0] ??
  [];

/** Everything that a target is strict about, a line each, in the order of the work. */
export function strictnessOf(target: Target): Strictness[] {
  const out: Strictness[] = [];
  const say = (block: keyof Target, ...parts: (string | false | undefined)[]) => {
    const said = parts.filter((p): p is string => typeof p === 'string' && p !== '');
    if (said.length === 0) return;
    const grave = (target[block] as { severity?: string } | undefined)?.severity;
    out.push({
      block,
      says: upper(said.join('; ')) + (grave && grave !== 'stop' ? ` (${grave})` : ''),
    });
  };
  const t = target;
  if (t.seats.length > 0) say('seats', saySeats(t.seats));
  else if (t.seating)
    say(
      'seating',
      t.seating.unseated === 'taken' ? 'every part as it is' : 'no part: all are left out',
    );
  if (t.channels)
    say(
      'channels',
      `${t.channels.only.length === 1 ? 'channel' : 'channels'} ${runs(t.channels.only)} only`,
    );
  if (t.file) {
    const { formats, layout, mostNoteTracks, mostBytes, ppq } = t.file;
    say(
      'file',
      formats && `SMF ${formats.join(' or ')}`,
      layout === 'conductor-first' && 'tempo and markers on a track of their own',
      mostNoteTracks !== undefined && `at most ${count(mostNoteTracks, 'track')} with notes`,
      ppq?.only && `PPQ ${ppq.only.join(', ')}`,
      ppq?.multipleOf !== undefined && `PPQ a multiple of ${ppq.multipleOf}`,
      ppq?.highest !== undefined && `PPQ at most ${ppq.highest}`,
      mostBytes !== undefined && `at most ${mostBytes.toLocaleString('en-GB')} bytes`,
    );
  }
  if (t.tempo) {
    const { constant, lowestBpm, highestBpm, mostEvents, onlyBpm, wholeBpm, declaredWithinBpm } =
      t.tempo;
    const { apartMs } = t.tempo;
    say(
      'tempo',
      constant && 'one tempo',
      (lowestBpm !== undefined || highestBpm !== undefined) &&
        `${plain(lowestBpm ?? 1)}–${highestBpm === undefined ? '' : plain(highestBpm)} BPM`,
      wholeBpm && 'whole numbers',
      onlyBpm && `only ${list(onlyBpm)} BPM`,
      mostEvents !== undefined && `at most ${count(mostEvents, 'tempo event')}`,
      apartMs !== undefined && `a change of tempo at most every ${plain(apartMs)} ms`,
      declaredWithinBpm !== undefined && `the declared BPM within ${declaredWithinBpm}`,
    );
  }
  if (t.meter)
    say(
      'meter',
      t.meter.constant && 'one meter',
      t.meter.only &&
        `only ${t.meter.only.map((m) => `${m.numerator}/${m.denominator}`).join(', ')}`,
    );
  if (t.start) {
    const { leadInBars, leadInMs, quietMs, inBar1, soundToo } = t.start;
    say(
      'start',
      leadInBars !== undefined && `${count(leadInBars, 'bar')} of rest first`,
      leadInMs !== undefined && `first note at ${plain(leadInMs)} ms or later`,
      quietMs !== undefined && `nothing but tick 0 before ${plain(quietMs)} ms`,
      inBar1 && 'begins in bar 1',
      soundToo && 'in the sound as well',
    );
  }
  if (t.clock)
    say(
      'clock',
      `${t.clock.of === 'first-note' ? 'the first note' : 'every note'} within ${plain(t.clock.withinMs)} ms of its clock time${t.clock.shift === 'common' ? ' plus one shift for all' : ''}`,
    );
  if (t.end) {
    const e = t.end;
    say(
      'end',
      e.onlyBars && `${list(e.onlyBars)} bars long`,
      e.leastBars !== undefined &&
        e.mostBars !== undefined &&
        `${e.leastBars}–${e.mostBars} whole bars`,
      e.filled && 'filled to the end',
      e.nothingPast && 'nothing past the end',
      e.tracksEqual && 'all tracks end together',
      e.tailMs !== undefined && `ends ${plain(e.tailMs)} ms behind the last event or later`,
      e.loopMarker && `loops from the marker ${e.loopMarker}`,
      e.loops && !e.loopMarker && 'goes round again',
      e.soundWithinMs !== undefined && `as long as its sound within ${plain(e.soundWithinMs)} ms`,
      e.soundWithinFrames !== undefined &&
        `as long as its sound within ${count(e.soundWithinFrames, 'frame')}`,
    );
  }
  if (t.notes) {
    const { lowest, highest, only, without, most, none } = t.notes;
    say(
      'notes',
      none && 'no notes',
      (lowest ?? highest ?? only ?? without) !== undefined && sayKeys(t.notes),
      most !== undefined && `at most ${most.toLocaleString('en-GB')} notes`,
    );
  }
  for (const s of t.seats) if (s.accepts) say('seats', `${s.name}: ${sayKeys(s.accepts)}`);
  if (t.kits)
    say('kits', `kits ${t.kits.map((k) => `${k.name} (${k.keys.length} keys)`).join(', ')}`);
  if (t.velocity)
    say(
      'velocity',
      t.velocity.deliveredAs !== undefined &&
        `velocity is ignored, delivered as ${t.velocity.deliveredAs}`,
      (t.velocity.lowest ?? t.velocity.highest) !== undefined &&
        `velocity ${t.velocity.lowest ?? 1}–${t.velocity.highest ?? 127}`,
    );
  if (t.velocity?.allAlike) say('velocity', `not all struck alike (${t.velocity.allAlike})`);
  if (t.polyphony) {
    const { together, over, spanSemitones, sharedNotes } = t.polyphony;
    say(
      'polyphony',
      `at most ${count(together, 'note')} at once${over === 'all' ? ' in all' : t.seats.length > 1 ? ' on a seat' : ''}`,
      spanSemitones !== undefined && `within ${spanSemitones} semitones`,
      sharedNotes === 'none' && 'no key on two seats at once',
    );
  }
  if (t.spacing) {
    const { sameKeyApartMs, apartMs, strikesASecond, mostOpenMs, openInMs } = t.spacing;
    say(
      'spacing',
      sameKeyApartMs !== undefined && `the same key not within ${plain(sameKeyApartMs)} ms`,
      apartMs !== undefined && `${plain(apartMs)} ms apart`,
      strikesASecond !== undefined && `at most ${strikesASecond} strikes a second`,
      mostOpenMs !== undefined &&
        `open at most ${plain(mostOpenMs)} ms in any ${plain(openInMs ?? 0)} ms`,
    );
  }
  if (t.length)
    say(
      'length',
      t.length.shortestMs !== undefined && `a note ${plain(t.length.shortestMs)} ms or longer`,
      t.length.longestMs !== undefined && `a note at most ${plain(t.length.longestMs)} ms`,
    );
  if (t.grid) {
    const g = t.grid;
    say(
      'grid',
      g.rowsPerSecond && `${list(g.rowsPerSecond)} rows a second`,
      g.mostInRow !== undefined && `at most ${g.mostInRow} in a row`,
      g.sameKeyNextRow === 'none' && 'no key in two rows running',
      g.mostRows !== undefined && `at most ${g.mostRows.toLocaleString('en-GB')} rows`,
      g.chordWithinMs !== undefined && `chords within ${plain(g.chordWithinMs)} ms`,
      g.triggerLowest !== undefined && `with a key of ${g.triggerLowest}–${g.triggerHighest}`,
    );
  }
  if (t.chart) {
    const c = t.chart;
    say(
      'chart',
      c.holdMs !== undefined && `a hold is ${plain(c.holdMs)} ms or longer`,
      c.rungs &&
        `${c.rungs.length} rungs with ${c.rungs.map((r) => lanesOf(t, r).length).join(', ')} lanes`,
      c.rungs && `at most ${c.rungs.map((r) => r.strikesASecond).join(', ')} strikes a second`,
      c.flags && `flags ${c.flags.join(', ')}`,
    );
  }
  if (t.presets) {
    const p = t.presets;
    const lead = p.leadLeastMs !== undefined || p.leadMostMs !== undefined;
    say(
      'presets',
      count(p.list.length, 'preset'),
      p.firstAtStart && 'one at the very start',
      p.apartMs !== undefined && `${plain(p.apartMs)} ms apart`,
      lead &&
        `${plain(p.leadLeastMs ?? 0)} to ${p.leadMostMs === undefined ? '' : plain(p.leadMostMs)} ms before their ${p.leadTo === 'bars' ? 'bar lines' : 'markers'}`,
      p.bankWithinMs !== undefined && `a bank within ${plain(p.bankWithinMs)} ms of its program`,
      p.loadMs !== undefined && `deaf for ${plain(p.loadMs)} ms while one loads`,
    );
  }
  if (t.curves) {
    for (const c of t.curves.list)
      say(
        'curves',
        `${c.name}: ${c.bend ? 'the bend' : `${(c.controllers?.length ?? 0) === 1 ? 'controller' : 'controllers'} ${runs(c.controllers ?? [])}`}`,
        c.values && `only ${list(c.values)}`,
        (c.lowest ?? c.highest) !== undefined && `${c.lowest ?? 0}–${c.highest ?? 127}`,
        c.perSecond !== undefined && `at most ${c.perSecond} values a second`,
        c.apartMs !== undefined && `${plain(c.apartMs)} ms apart`,
        c.mostJump !== undefined && `steps of at most ${c.mostJump}`,
        c.slewMs !== undefined && `from 0 to full in ${plain(c.slewMs)} ms`,
        c.rest !== undefined && `at ${c.rest} at the end`,
      );
    if (t.curves.perSecond !== undefined)
      say('curves', `at most ${t.curves.perSecond} values a second in all`);
  }
  if (t.captions)
    say(
      'captions',
      `at most ${t.captions.mostLines} lines of ${t.captions.longestLine} characters`,
      `each ${t.captions.leadLeastMs ?? 0}–${t.captions.leadMostMs ?? ''} ms before its word`,
    );
  if (t.frames)
    say(
      'frames',
      `${t.frames.perSecond.join(', ')} frames a second`,
      t.frames.endings.map((e) => sayFact('ending', e)).join(' or '),
    );
  if (t.strands)
    say('strands', 'each part a named strand', t.strands.names && `names ${list(t.strands.names)}`);
  if (t.chains)
    say(
      'chains',
      `patterns ${t.chains.patterns[0]}–${t.chains.patterns.at(-1)}`,
      `chains of up to ${t.chains.mostLinks} links`,
    );
  if (t.events) {
    const e = t.events;
    const none = (['controllers', 'programs', 'bends', 'aftertouch', 'sysex'] as const).filter(
      (k) => e[k] === 'none',
    );
    say(
      'events',
      none.length > 0 && `no ${list(none)}`,
      Array.isArray(e.controllers) && `only controllers ${list(e.controllers)}`,
      e.controllersWithout && `no controllers ${list(e.controllersWithout)}`,
      e.controllersOnceAtStart && `${list(e.controllersOnceAtStart)} once each at the start`,
      e.programs === 'one-at-start' && 'no program change, or one a channel at the start',
      e.programs === 'of-seat' && 'one program out of the sounds of the seat',
      e.silentChannels === 'none' && 'only channels with notes',
    );
  }
  if (t.text) {
    const x = t.text;
    say(
      'text',
      x.mostTrackNames !== undefined &&
        (x.mostTrackNames === 0
          ? 'no track names'
          : `at most ${count(x.mostTrackNames, 'track name')}`),
      x.markers === 'none' && 'no markers',
      x.markers === 'loop-marker' && 'no marker but the loop’s',
      x.others === 'none' && 'no other text',
      x.longestMarker !== undefined && `labels up to ${x.longestMarker} characters`,
      x.markerLetters === 'printable-ascii' && 'in plain ASCII',
    );
  }
  for (const l of t.limits ?? [])
    say(
      'limits',
      `${sayMeasure(l)}: ${sayBounds(l)}${l.severity && l.severity !== 'stop' ? ` (${l.severity})` : ''}`,
    );
  if (t.carrier) say('carrier', `one soft note ${t.carrier.noteNumber} through the whole length`);
  if (t.metadata)
    say('metadata', `asks for ${list(t.metadata.required.map((m) => factWords(m.key)))}`);
  for (const f of t.formats ?? []) say('formats', `its own files: ${f.name}`);
  if (t.naming)
    say(
      'naming',
      t.naming.only
        ? `names ${list(t.naming.only, 4)}`
        : `names ${t.naming.prefixes ? `from ${t.naming.prefixes[0]} to ${t.naming.prefixes.at(-1)}, ` : ''}up to ${t.naming.longest} ${t.naming.letters === 'any' ? 'letters' : `of ${t.naming.letters}`}, ${t.naming.ending}`,
    );
  if (t.card) say('card', sayCard(t.card));
  return out;
}

/** What is asked of a card that holds several songs. */
function sayCard(card: NonNullable<Target['card']>): string {
  const { mostFiles, mostFolders, mostBytes, digits, same } = card;
  return list(
    [
      mostFiles === undefined ? '' : `up to ${count(mostFiles, 'file')} on a card`,
      mostFolders === undefined
        ? ''
        : mostFolders === 0
          ? 'no folder on a card'
          : `up to ${count(mostFolders, 'folder')} on a card`,
      mostBytes === undefined ? '' : `up to ${count(mostBytes, 'byte')} on a card`,
      digits === undefined ? '' : `names begin with a number of ${count(digits, 'digit')}`,
      same === undefined ? '' : `one ${list(same)} for all songs of a card`,
    ].filter(Boolean),
  );
}
