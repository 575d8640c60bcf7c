import { type Channel, waveAt } from './channel';
import { FX, NNA } from './module';
import type { PlayerState } from './player-state';
import {
  clamp64,
  held,
  move,
  slideParts,
  tone,
  toneMemory,
  vibrate,
  vibratoStrength,
} from './slides';

const isLetters = (p: PlayerState) => p.module.format === 's3m' || p.module.format === 'it';

/** The effect of a cell at the beginning of its row. */
export function rowEffect(p: PlayerState, c: Channel): void {
  const { format } = p.module;
  const letters = isLetters(p);
  const { param } = c;
  switch (c.effect) {
    case FX.jump:
      p.song.jumpTo = param;
      if (!letters) p.song.breakTo = 0;
      break;
    case FX.break:
      p.song.breakTo = format === 'mod' && param > 63 ? 0 : param;
      break;
    case FX.speed:
      if (param > 0) p.speed = param;
      else if (!letters) p.stopped = true;
      break;
    case FX.tempo:
      if (param >= 0x20) p.tempo = param;
      break;
    case FX.volume:
      c.volume = clamp64(param);
      break;
    case FX.globalVolume:
      p.globalVolume =
        format === 'it'
          ? param <= 128
            ? param / 128
            : p.globalVolume
          : param <= 64 || format === 'xm'
            ? Math.min(64, param) / 64
            : p.globalVolume;
      break;
    case FX.globalSlide: {
      const { fine } = letters ? slideParts(held(p, c, 'global')) : { fine: 0 };
      if (fine !== 0) slideGlobal(p, fine);
      break;
    }
    case FX.channelVolume:
      if (param <= 64) c.gain = param / 64;
      break;
    case FX.channelSlide: {
      const { fine } = slideParts(held(p, c, 'channel-slide'));
      if (fine !== 0) c.gain = Math.min(1, Math.max(0, c.gain + fine / 64));
      break;
    }
    case FX.pan:
      if (format !== 's3m') c.pan = param / 255;
      else if (param <= 0x80) c.pan = param / 128;
      break;
    case FX.pan16:
      c.pan = param / 15;
      break;
    case FX.panSlide:
      if (letters) {
        const { fine } = slideParts(held(p, c, 'pan-slide'));
        if (fine !== 0) c.pan = Math.min(1, Math.max(0, c.pan - fine / 64));
      }
      break;
    case FX.slide:
      if (letters) {
        const said = held(p, c, 'slide');
        const { fine, each } = slideParts(said, format);
        if (fine !== 0) c.volume = clamp64(c.volume + fine);
        else if (p.module.fastSlides || (format === 's3m' && (said === 0x0f || said === 0xf0)))
          c.volume = clamp64(c.volume + each);
      }
      break;
    case FX.toneAndSlide:
    case FX.vibratoAndSlide:
      if (letters) {
        const { fine } = slideParts(held(p, c, 'slide'), format);
        if (fine !== 0) c.volume = clamp64(c.volume + fine);
      }
      if (c.effect === FX.vibratoAndSlide && format === 'it' && !p.module.oldEffects)
        vibrate(p, c, vibratoStrength(p));
      break;
    case FX.up:
    case FX.down:
      if (letters) {
        const said = held(p, c, 'slide-pitch');
        const sign = c.effect === FX.up ? 1 : -1;
        if (said >= 0xf0) move(p, c, sign * (said & 15) * 4);
        else if (said >= 0xe0) move(p, c, sign * (said & 15));
      }
      break;
    case FX.tone:
      if (param > 0) c.memory.take(toneMemory(p), param);
      break;
    case FX.vibrato:
    case FX.fineVibrato:
      c.memory.takeHalves('vibrato', param);
      if (format === 'it' && !p.module.oldEffects) vibrate(p, c, c.effect === FX.vibrato ? 4 : 1);
      break;
    case FX.tremolo:
      c.memory.takeHalves('tremolo', param);
      break;
    case FX.panbrello:
      c.memory.takeHalves('panbrello', param);
      break;
    case FX.fineUp:
      move(p, c, 4 * (format === 'xm' ? c.memory.take('fine-up', param) : param));
      break;
    case FX.fineDown:
      move(p, c, -4 * (format === 'xm' ? c.memory.take('fine-down', param) : param));
      break;
    case FX.extraFineUp:
      move(p, c, c.memory.take('extra-up', param));
      break;
    case FX.extraFineDown:
      move(p, c, -c.memory.take('extra-down', param));
      break;
    case FX.fineSlideUp:
      c.volume = clamp64(c.volume + (format === 'xm' ? c.memory.take('vol-up', param) : param));
      break;
    case FX.fineSlideDown:
      c.volume = clamp64(c.volume - (format === 'xm' ? c.memory.take('vol-down', param) : param));
      break;
    case FX.glissando:
      c.glissando = param !== 0;
      break;
    case FX.vibratoWave:
      c.vibratoWave = param;
      break;
    case FX.tremoloWave:
      c.tremoloWave = param;
      break;
    case FX.loop:
      loopRows(p, c);
      break;
    case FX.rowDelay:
      if (p.rowDelay === 0) p.rowDelay = param;
      break;
    case FX.tickDelay:
      if (format === 'it') p.tickDelay += param;
      break;
    case FX.highOffset:
      if (format === 'it') c.highOffset = param;
      break;
    case FX.notes:
      if (format === 'it') notesAct(p, c, param);
      break;
    case FX.envelopeAt:
      for (const run of [c.voice?.volumeRun, c.voice?.panRun]) if (run) run.tick = param;
      break;
    case FX.keyOff:
      if (param === 0) p.release(c);
      break;
    case FX.cut:
      if (param === 0 && !letters) c.volume = 0;
      break;
    case FX.again:
      if (param > 0 && c.note === 0 && format === 'mod') p.again(c);
      break;
    case FX.retrigger:
      retrigger(p, c);
      break;
    case FX.tremor:
      tremor(p, c);
      break;
    default:
  }
}

function loopRows(p: PlayerState, c: Channel): void {
  // The machine of S3M has one loop for all channels.
  const of = p.module.format === 's3m' ? p.channels[0]! : c;
  if (c.param === 0) {
    of.loopRow = p.song.row;
    return;
  }
  if (of.loopCount === 0) of.loopCount = c.param;
  else of.loopCount--;
  if (of.loopCount > 0) p.song.loopTo = of.loopRow;
  else if (isLetters(p)) of.loopRow = p.song.row + 1;
}

function notesAct(p: PlayerState, c: Channel, param: number): void {
  if (param <= 2) p.actOnBackground(c, [NNA.cut, NNA.off, NNA.fade][param]!);
  else if (param <= 6) c.newNote = param - 3;
}

const slideGlobal = (p: PlayerState, by: number) => {
  const step = p.module.format === 'it' ? 128 : 64;
  p.globalVolume = Math.min(1, Math.max(0, p.globalVolume + by / step));
};

/** Volume of a strike that is struck again: by the high half of its parameter. */
function afterRetrigger(volume: number, how: number): number {
  const by = [0, -1, -2, -4, -8, -16, 0, 0, 0, 1, 2, 4, 8, 16, 0, 0][how]!;
  const times = how === 6 ? 2 / 3 : how === 7 ? 0.5 : how === 14 ? 1.5 : how === 15 ? 2 : 1;
  return clamp64(Math.floor((volume + by) * times));
}

function retrigger(p: PlayerState, c: Channel): void {
  const said =
    p.module.format === 'xm'
      ? c.memory.takeHalves('retrigger', p.tickInRow === 0 ? c.param : 0)
      : held(p, c, 'retrigger');
  const every = said & 15;
  if (every === 0) return;
  if (p.tickInRow === 0 && c.note >= 1 && c.note <= 120) {
    c.retriggerCount = 1;
    return;
  }
  if (c.retriggerCount >= every) {
    c.retriggerCount = 0;
    c.volume = afterRetrigger(c.volume, said >> 4);
    p.again(c);
  }
  c.retriggerCount++;
}

function tremor(p: PlayerState, c: Channel): void {
  const said = held(p, c, 'tremor');
  const old = p.module.format !== 'it' || p.module.oldEffects ? 1 : 0;
  const on = Math.max(1, (said >> 4) + old);
  const off = Math.max(1, (said & 15) + old);
  c.silent = c.tremorCount % (on + off) >= on;
  c.tremorCount++;
}

/** The effect of a cell on every tick behind the first. */
export function tickEffect(p: PlayerState, c: Channel): void {
  const { format } = p.module;
  const letters = isLetters(p);
  const { param } = c;
  switch (c.effect) {
    case FX.arpeggio: {
      const said = format === 'mod' || format === 'xm' ? param : held(p, c, 'arpeggio');
      // The machine of XM counts the ticks that are left.
      const third = (format === 'xm' ? p.speed - p.tickInRow : p.tickInRow) % 3;
      c.arpeggio = third === 1 ? said >> 4 : third === 2 ? said & 15 : 0;
      break;
    }
    case FX.up:
    case FX.down: {
      const name = format === 'xm' ? (c.effect === FX.up ? 'up' : 'down') : 'slide-pitch';
      const said = held(p, c, name);
      if (!letters || said < 0xe0) move(p, c, (c.effect === FX.up ? 4 : -4) * said);
      break;
    }
    case FX.tone:
      tone(p, c, c.memory.take(toneMemory(p), 0));
      break;
    case FX.toneAndSlide:
      tone(p, c, c.memory.take(toneMemory(p), 0));
      slideVolume(p, c);
      break;
    case FX.vibrato:
      vibrate(p, c, vibratoStrength(p));
      break;
    case FX.fineVibrato:
      vibrate(p, c, vibratoStrength(p) / 4);
      break;
    case FX.vibratoAndSlide:
      vibrate(p, c, vibratoStrength(p));
      slideVolume(p, c);
      break;
    case FX.tremolo: {
      const said = c.memory.takeHalves('tremolo', 0);
      c.tremolo = Math.round(waveAt(c.tremoloWave, c.tremoloAt) * (said & 15) * 4);
      c.tremoloAt = (c.tremoloAt + (said >> 4)) % 64;
      break;
    }
    case FX.panbrello: {
      const said = c.memory.takeHalves('panbrello', 0);
      c.panShift = (waveAt(0, c.panbrelloAt) * (said & 15)) / 30;
      c.panbrelloAt = (c.panbrelloAt + (said >> 4)) % 64;
      break;
    }
    case FX.slide:
      slideVolume(p, c);
      break;
    case FX.globalSlide: {
      const said = held(p, c, 'global');
      const each = letters ? slideParts(said).each : said >> 4 ? said >> 4 : -(said & 15);
      slideGlobal(p, each);
      break;
    }
    case FX.channelSlide:
      c.gain = Math.min(1, Math.max(0, c.gain + slideParts(held(p, c, 'channel-slide')).each / 64));
      break;
    case FX.panSlide: {
      const said = held(p, c, 'pan-slide');
      const by = letters
        ? -slideParts(said).each / 64
        : ((said >> 4) - (said >> 4 ? 0 : said & 15)) / 255;
      c.pan = Math.min(1, Math.max(0, c.pan + by));
      break;
    }
    case FX.tempo:
      if (format === 'it' && param < 0x20) {
        const said = param;
        const by = said >= 0x10 ? said & 15 : -(said & 15);
        p.tempo = Math.min(255, Math.max(32, p.tempo + by));
      }
      break;
    case FX.cut: {
      const when = letters && param === 0 ? (format === 'it' ? 1 : -1) : param;
      if (p.tickInRow !== when) break;
      if (format === 'it' && c.voice) c.voice.ended = true;
      else c.volume = 0;
      break;
    }
    case FX.keyOff:
      if (p.tickInRow === param) p.release(c);
      break;
    case FX.again:
      if (param > 0 && p.tickInRow % param === 0) p.again(c);
      break;
    case FX.retrigger:
      retrigger(p, c);
      break;
    case FX.tremor:
      tremor(p, c);
      break;
    default:
  }
}

function slideVolume(p: PlayerState, c: Channel): void {
  const said = held(p, c, 'slide');
  const each = isLetters(p)
    ? slideParts(said, p.module.format).each
    : said >> 4
      ? said >> 4
      : -(said & 15);
  c.volume = clamp64(c.volume + each);
}
