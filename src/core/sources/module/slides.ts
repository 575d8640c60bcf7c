import { type Channel, waveAt } from './channel';
import type { ModuleFormat } from './module';
import type { PlayerState } from './player-state';

export const clamp64 = (v: number) => Math.min(64, Math.max(0, v));

export const toneMemory = (p: PlayerState) =>
  p.module.format === 's3m' ? 'tone' : p.module.ownPortamento ? 'tone' : 'slide-pitch';

/** Parameters that are remembered: all in one for S3M, not at all for most of MOD. */
export function held(p: PlayerState, c: Channel, name: string): number {
  const { format } = p.module;
  if (format === 'mod') return c.param;
  return c.memory.take(format === 's3m' ? 'all' : name, c.param);
}

export function move(p: PlayerState, c: Channel, units: number): void {
  c.pitch = p.scale.up(c.pitch, units, p.module.periodLimits);
}

export function tone(p: PlayerState, c: Channel, speed: number): void {
  if (c.voice) c.pitch = p.scale.towards(c.pitch, c.target, speed * 4);
}

export const vibratoStrength = (p: PlayerState) =>
  p.module.format === 'it' && !p.module.oldEffects ? 4 : 8;

export function vibrate(p: PlayerState, c: Channel, strength: number): void {
  const param = c.memory.takeHalves('vibrato', 0);
  const w = waveAt(c.vibratoWave, c.vibratoAt);
  const sign = p.module.format === 'it' ? 1 : -1;
  c.bend += sign * w * (param & 15) * strength;
  c.vibratoAt = (c.vibratoAt + (param >> 4)) % 64;
}

/** S3M and IT: fine slides hide in the halves of D; where both say something S3M slides down. */
export function slideParts(
  param: number,
  format: ModuleFormat = 'it',
): { fine: number; each: number } {
  const [up, down] = [param >> 4, param & 15];
  if (down === 15 && up > 0) return { fine: up, each: 0 };
  if (up === 15 && down > 0) return { fine: -down, each: 0 };
  const isDown = up === 0 || (format === 's3m' && down > 0);
  return { fine: 0, each: isDown ? -down : down === 0 ? up : 0 };
}
