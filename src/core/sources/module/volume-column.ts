import type { Channel } from './channel';
import { VOL } from './module';
import type { PlayerState } from './player-state';
import { clamp64, move, tone, toneMemory, vibrate, vibratoStrength } from './slides';

/** What the volume column does at the beginning of its row. */
export function volumeOnRow(p: PlayerState, c: Channel): void {
  const v = c.volumeValue;
  const isIt = p.module.format === 'it';
  switch (c.volumeKind) {
    case VOL.set:
      c.volume = Math.min(64, v);
      break;
    case VOL.pan:
      c.pan = Math.min(64, v) / 64;
      break;
    case VOL.fineDown:
      c.volume = clamp64(c.volume - (isIt ? c.memory.take('column', v) : v));
      break;
    case VOL.fineUp:
      c.volume = clamp64(c.volume + (isIt ? c.memory.take('column', v) : v));
      break;
    case VOL.vibratoSpeed:
      c.memory.takeHalves('vibrato', v << 4);
      break;
    case VOL.vibrato:
      c.memory.takeHalves('vibrato', v);
      if (isIt && !p.module.oldEffects) vibrate(p, c, vibratoStrength(p));
      break;
    case VOL.tone:
      c.memory.take(toneMemory(p), isIt ? [0, 1, 4, 8, 16, 32, 64, 96, 128, 255][v]! : v << 4);
      break;
    default:
  }
}

/** What it does on every tick behind the first. */
export function volumeOnTick(p: PlayerState, c: Channel): void {
  if (p.tickInRow === 0) return;
  const v = c.volumeValue;
  const isIt = p.module.format === 'it';
  const held = () => (isIt ? c.memory.take('column', v) : v);
  switch (c.volumeKind) {
    case VOL.slideDown:
      c.volume = clamp64(c.volume - held());
      break;
    case VOL.slideUp:
      c.volume = clamp64(c.volume + held());
      break;
    case VOL.panLeft:
      c.pan = Math.max(0, c.pan - v / 255);
      break;
    case VOL.panRight:
      c.pan = Math.min(1, c.pan + v / 255);
      break;
    case VOL.vibrato:
      vibrate(p, c, vibratoStrength(p));
      break;
    case VOL.tone:
      tone(p, c, c.memory.take(toneMemory(p), 0));
      break;
    case VOL.pitchDown:
      move(p, c, -4 * c.memory.take('slide-pitch', v * 4));
      break;
    case VOL.pitchUp:
      move(p, c, 4 * c.memory.take('slide-pitch', v * 4));
      break;
    default:
  }
}
