import { Channel, waveAt } from './channel';
import { cellAt, FX, NNA, NOTE_CUT, NOTE_FADE, NOTE_OFF, VOL, type Module } from './module';
import { PitchScale } from './pitch';
import { PAL_CLOCK } from './read-mod';
import { SPECIAL } from './read-s3m';
import { rowEffect, tickEffect } from './effects';
import { volumeOnRow, volumeOnTick } from './volume-column';
import type { PlayerState } from './player-state';
import { SongOrder } from './song-order';
import { Voice } from './voice';

/** A row as it was played. */
export interface PlayedRow {
  readonly order: number;
  readonly pattern: number;
  readonly row: number;
  /** Seconds from the beginning. */
  readonly at: number;
  readonly seconds: number;
  readonly ticks: number;
}

/** Nothing plays longer, whatever its bytes say: seven hours at fifty ticks a second. */
const MOST_TICKS = 1_250_000;
const MOST_CHANNEL_TICKS = 60_000_000;

const MOST_BACKGROUND = 128;
const isAlive = (v: Voice | null) => v !== null && !v.ended;

/** What is not done again where a row is played for longer. */
const ONCE: ReadonlySet<number> = new Set([
  FX.jump,
  FX.break,
  FX.loop,
  FX.rowDelay,
  FX.tickDelay,
  FX.speed,
  FX.tempo,
]);

/**
 * Plays a module as its machine does, tick by tick: after each `tick()` the voices that sound stand in
 * `voices`, with frequency, level and pan for `seconds`. Who listens moves them on (`Voice.advance`).
 * It ends where the song ends, or comes to a row in a state that was there before.
 */
export class Player implements PlayerState {
  readonly channels: readonly Channel[];
  readonly scale: PitchScale;
  /** Which row is played, and where effects send it. */
  readonly song: SongOrder;
  readonly rows: PlayedRow[] = [];
  background: Voice[] = [];
  speed: number;
  tempo: number;
  globalVolume: number;
  /** Seconds of this tick, and where it begins. */
  seconds = 0;
  at = 0;
  tickInRow = 0;
  /** It was stopped by the bound on ticks. */
  cutShort = false;

  stopped = false;
  rowDelay = 0;
  tickDelay = 0;

  #repeating = false;
  #ended = false;
  #strikes = 0;
  #ticks = 0;

  constructor(
    readonly module: Module,
    firstOrder = 0,
  ) {
    this.scale = new PitchScale(module);
    this.speed = module.speed;
    this.tempo = module.tempo;
    this.globalVolume = module.globalVolume;
    this.channels = module.pan.map(
      (pan, c) => new Channel(c, pan, module.channelVolume[c]!, module.muted[c]!),
    );
    this.song = new SongOrder(module, this.channels, firstOrder);
  }

  *voices(): Generator<Voice> {
    for (const c of this.channels) if (c.voice && !c.voice.ended) yield c.voice;
    for (const v of this.background) if (!v.ended) yield v;
  }

  /** Hz at which the sample of a voice runs at its own key. */
  keyFrequency(v: Voice): number {
    return v.sample.rate * 2 ** ((v.soundingKey - 60) / 12);
  }

  /** One tick; false where there is none any more. */
  tick(): boolean {
    if (this.#ended) return false;
    this.at += this.seconds;
    this.#ticks++;
    if (this.#ticks > MOST_TICKS || this.#ticks * this.channels.length > MOST_CHANNEL_TICKS) {
      this.cutShort = true;
      return false;
    }
    if (this.tickInRow === 0 && !this.#repeating && !this.#startRow()) return false;
    const { format } = this.module;
    for (const c of this.channels) {
      c.bend = 0;
      c.arpeggio = 0;
      c.tremolo = 0;
      c.silent = false;
      c.panShift = 0;
    }
    for (const c of this.channels) {
      if (this.tickInRow === 0 && !this.#repeating) this.#onRow(c);
      else if (this.tickInRow === 0 && (format === 's3m' || format === 'it')) {
        if (c.delay === 0 && !ONCE.has(c.effect)) rowEffect(this, c);
      } else {
        if (c.delay > 0 && c.delay === this.tickInRow && !this.#repeating) this.#playCell(c);
        volumeOnTick(this, c);
        tickEffect(this, c);
      }
    }
    if (this.stopped) {
      this.#ended = true;
      this.rows.pop();
      return false;
    }
    this.seconds = 2.5 / this.tempo;
    this.#sound();
    this.tickInRow++;
    if (this.tickInRow >= this.speed + this.tickDelay) this.#endRow();
    return true;
  }

  /** Reads the next row; false where the song has ended. */
  #startRow(): boolean {
    if (!this.song.enter()) {
      this.#ended = true;
      return false;
    }
    this.tickDelay = 0;
    this.rowDelay = 0;
    const { order, row } = this.song;
    const pattern = this.module.orders[order]!;
    this.rows.push({ order, pattern, row, at: this.at, seconds: 0, ticks: 0 });
    return true;
  }

  #endRow(): void {
    this.tickInRow = 0;
    this.#repeating = this.rowDelay > 0;
    if (this.#repeating) {
      this.rowDelay--;
      return;
    }
    const began = this.rows.pop()!;
    this.rows.push({
      ...began,
      seconds: this.at + this.seconds - began.at,
      ticks: this.speed + this.tickDelay,
    });
    this.song.leave();
  }

  /** The cell of a channel at the beginning of its row. */
  #onRow(c: Channel): void {
    const { cells } = this.song.pattern;
    const { format } = this.module;
    const at = cellAt(this.channels.length, this.song.row, c.index);
    const empty = at >= cells.length;
    c.note = empty ? 0 : cells[at]!;
    c.cellInstrument = empty ? 0 : cells[at + 1]!;
    c.volumeKind = empty ? 0 : cells[at + 2]!;
    c.volumeValue = empty ? 0 : cells[at + 3]!;
    c.effect = empty ? 0 : cells[at + 4]!;
    c.param = empty ? 0 : cells[at + 5]!;
    c.delay = 0;
    // One memory for all effects, whichever they are.
    if (format === 's3m' && c.effect !== FX.none) c.memory.take('all', c.param);
    if (c.effect === FX.special) {
      const said = c.memory.take(format === 's3m' ? 'all' : 'special', c.param);
      c.effect = SPECIAL[said >> 4]!;
      c.param = said & 15;
    }
    if (c.effect === FX.delay) {
      const wait = c.param === 0 && format === 'it' ? 1 : c.param;
      if (wait > 0) {
        c.delay = wait;
        return;
      }
    }
    this.#playCell(c);
    rowEffect(this, c);
  }

  /** Note, instrument and volume of a cell, when its time has come. */
  #playCell(c: Channel): void {
    const { format, samples } = this.module;
    const slides =
      c.effect === FX.tone || c.effect === FX.toneAndSlide || c.volumeKind === VOL.tone;
    const isKey = c.note >= 1 && c.note <= 120;
    const key = isKey ? c.note - 1 : c.key;
    if (c.cellInstrument > 0) {
      c.instrument = c.cellInstrument;
      const number = this.#sampleFor(c.instrument, key);
      // XM: what sounds goes on, with the volume of its own sample.
      const goesOn = format === 'xm' && c.voice && (!isKey || slides) ? c.voice.sample : null;
      const sample = goesOn ?? samples[number];
      if (sample) {
        c.volume = sample.volume;
        if (format === 'xm' && sample.pan !== null && (isKey || c.voice)) c.pan = sample.pan;
        const other = format === 'it' && !isKey && c.voice && number !== c.sample && c.key >= 0;
        if (other) this.#strike(c, c.key, number);
        if (format === 'mod' && (!isKey || slides)) this.#goOnWith(c, number);
      } else if (format === 'xm' && isKey) {
        if (c.voice) c.voice.ended = true;
      }
      // A number alone, or with a note that is slid to, begins the envelopes anew.
      if (format === 'xm' && (isKey ? slides : c.note !== NOTE_OFF)) c.voice?.holdAnew();
    }
    if (isKey) {
      const number = this.#sampleFor(c.instrument, key);
      const sample = samples[number];
      // S3M and IT strike what nothing is there to slide to; the older machines stay silent.
      const sliding = slides && (format === 'mod' || format === 'xm' || isAlive(c.voice));
      if (sliding && sample) {
        c.target = this.scale.of(this.#mapped(c, key), this.#rateOf(c, sample.rate));
      } else if (sample) this.#strike(c, key, number);
      else if (c.voice && format !== 'it') c.voice.ended = true;
    } else if (c.note === NOTE_CUT) {
      if (c.voice) c.voice.ended = true;
    } else if (c.note === NOTE_OFF) {
      const { volume } = c;
      this.release(c);
      // XM: the volume that its number brings comes after the end that it is.
      if (format === 'xm' && c.cellInstrument > 0) c.volume = volume;
    } else if (c.note === NOTE_FADE && c.voice) c.voice.fading = true;
    volumeOnRow(this, c);
  }

  /** MOD: a number without a note is the sample that goes on where the one that sounds goes round. */
  #goOnWith(c: Channel, number: number): void {
    const sample = this.module.samples[number]!;
    if (!c.voice) return;
    if (!c.voice.ended) {
      c.voice.after = number === c.voice.sampleNumber ? null : { number, sample };
      return;
    }
    // What has come to its end waits at the end for what goes round.
    if (!sample.loop) return;
    const { pitch } = c;
    this.#strike(c, c.key, number);
    c.pitch = pitch;
    c.voice.position = sample.loop.from;
  }

  /** Note off on a channel. */
  release(c: Channel): void {
    if (!c.voice) return;
    if (this.module.format === 'it') {
      c.voice.releaseAsNote('it');
      return;
    }
    c.voice.releaseAsNote('xm');
    if (!c.voice.volumeRun) c.volume = 0;
  }

  #sampleFor(instrument: number, key: number): number {
    const { instruments } = this.module;
    if (!instruments) return instrument;
    return instruments[instrument]?.sampleOf[Math.min(119, Math.max(0, key))] ?? 0;
  }

  #mapped(c: Channel, key: number): number {
    return this.module.instruments?.[c.instrument]?.keyOf[key] ?? key;
  }

  #rateOf(c: Channel, rate: number): number {
    if (c.tuning === null) return rate;
    // Of the oldest machine it takes the place of the sample’s own.
    const untuned = this.module.format === 'mod' ? PAL_CLOCK / 428 : rate;
    return untuned * 2 ** (c.tuning / 96);
  }

  #strike(c: Channel, key: number, number: number): void {
    const { samples, instruments, format } = this.module;
    const sample = samples[number]!;
    const instrument = instruments?.[c.instrument] ?? null;
    const before = c.voice;
    if (before && !before.ended && format === 'it' && instruments) this.#newNote(c, before, key);
    else if (before) before.ended = true;
    const sounding = instrument?.keyOf[key] ?? key;
    const voice = new Voice(
      ++this.#strikes,
      c.index,
      number,
      sample,
      c.instrument,
      instrument,
      key,
      sounding,
    );
    // XM: without a number what holds and fades goes on over the new note.
    if (format === 'xm' && c.cellInstrument === 0 && before?.instrument === instrument)
      voice.goOnAs(before);
    c.tuning = c.effect === FX.tuning ? (c.param >= 8 ? c.param - 16 : c.param) : null;
    c.voice = voice;
    c.key = key;
    c.sample = number;
    c.newNote = null;
    c.pitch = this.scale.of(sounding, this.#rateOf(c, sample.rate));
    c.target = c.pitch;
    if (format === 'it') {
      if (sample.pan !== null) c.pan = sample.pan;
      else if (instrument?.defaultPan !== null && instrument?.defaultPan !== undefined)
        c.pan = instrument.defaultPan;
    }
    if (c.vibratoWave < 4) c.vibratoAt = 0;
    if (c.tremoloWave < 4) c.tremoloAt = 0;
    c.tremorCount = 0;
    if (c.effect === FX.offset) this.#offset(c, voice);
  }

  #offset(c: Channel, voice: Voice): void {
    const { format, oldEffects } = this.module;
    const from = c.memory.take('offset', c.param) * 256 + c.highOffset * 65536;
    const { length } = voice.sample.frames;
    if (from < length) voice.position = from;
    else if (format === 'xm') voice.ended = true;
    else if (format === 'it' && !oldEffects) voice.position = 0;
    else if (voice.loop) voice.position = voice.loop.from;
    else voice.ended = true;
  }

  /** The same strike once more, from the beginning of its sample. */
  again(c: Channel): void {
    const v = c.voice;
    if (!v || v.ended) return;
    const next = new Voice(
      ++this.#strikes,
      v.channel,
      v.sampleNumber,
      v.sample,
      v.instrumentNumber,
      v.instrument,
      v.key,
      v.soundingKey,
    );
    v.ended = true;
    c.voice = next;
  }

  /** IT: what becomes of the note before, and of its duplicates in the background. */
  #newNote(c: Channel, before: Voice, key: number): void {
    const next = this.module.instruments?.[c.instrument] ?? null;
    const action = c.newNote ?? before.instrument?.newNote ?? NNA.cut;
    if (next && next.duplicate > 0)
      for (const v of [before, ...this.background]) {
        if (v.channel !== c.index || v.instrument !== next) continue;
        const same =
          next.duplicate === 1
            ? v.key === key
            : next.duplicate === 2
              ? v.sampleNumber === this.#sampleFor(c.instrument, key)
              : true;
        if (same) v.act([NNA.cut, NNA.off, NNA.fade][next.duplicateAction] ?? NNA.cut);
      }
    if (before.ended) return;
    before.act(action);
    if (before.ended) return;
    before.volume = c.volume;
    before.channelGain = c.gain;
    before.pitch = c.pitch;
    this.background.push(before);
    if (this.background.length > MOST_BACKGROUND) {
      this.background[0]!.ended = true;
      this.background.shift();
    }
  }

  /** S70 to S72: what sounds in the background of a channel. */
  actOnBackground(c: Channel, action: number): void {
    for (const v of this.background) if (v.channel === c.index) v.act(action);
  }

  /** Frequency, level and pan of everything that sounds, for this tick. */
  #sound(): void {
    for (const c of this.channels) {
      const v = c.voice;
      if (!v || v.ended) continue;
      v.pitch = c.pitch;
      v.volume = Math.min(64, Math.max(0, c.volume + c.tremolo));
      v.channelGain = c.gain;
      v.pan = Math.min(1, Math.max(0, c.pan + c.panShift));
      this.#level(v, c.silent || c.muted, c.bend, c.arpeggio, c.glissando);
    }
    this.background = this.background.filter((v) => !v.ended);
    for (const v of this.background) this.#level(v, this.channels[v.channel]!.muted, 0, 0, false);
  }

  #level(v: Voice, silent: boolean, bend: number, arpeggio: number, steps: boolean): void {
    v.goEnvelopes(this.module.format);
    let pitch = v.pitch;
    if (steps) {
      const base = this.scale.of(v.soundingKey, v.sample.rate);
      const whole = Math.round(this.scale.semitones(base, pitch));
      pitch = this.scale.of(v.soundingKey + whole, v.sample.rate);
    }
    const own = v.sample.vibrato;
    let semitones = arpeggio + (v.pitchRun?.value() ?? 0);
    if (own) {
      const deep = own.sweep > 0 ? Math.min(1, v.age / own.sweep) : 1;
      semitones += (own.depth * deep * waveAt(own.wave, (v.age * own.speed) / 4)) / 64;
    }
    const bent = this.scale.linear ? pitch + bend : pitch - bend;
    v.frequency = this.scale.frequency(bent) * 2 ** (semitones / 12);
    const envelope = v.volumeRun?.value() ?? 1;
    const instrument = v.instrument?.gain ?? 1;
    v.level = silent
      ? 0
      : (v.volume / 64) *
        v.sample.gain *
        instrument *
        v.channelGain *
        this.globalVolume *
        envelope *
        v.fadeLevel;
    if (v.panRun) v.pan = v.pan + v.panRun.value() * (0.5 - Math.abs(v.pan - 0.5));
  }
}
