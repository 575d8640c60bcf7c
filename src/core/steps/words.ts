import type { Maps } from '../score/inventory';
import { findStep } from './index';
import type { StepCall } from './call';
import type { Named } from './define-step';

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/**
 * A step in words, with what it is for: "Tenor bells: up 12 semitones, bars 9–16"; bars where maps
 * are given, seats by name where the target is.
 */
export function sayStep(call: StepCall, maps?: Maps, named?: Named): string {
  const definition = findStep(call.step);
  const params = definition?.params.safeParse(call.params);
  const does =
    definition && params?.success
      ? definition.describe(params.data, named)
      : `${call.step} (not usable)`;
  const { parts, notes, fromTick, toTick, stretches, file } = call.scope;
  // Of a track without a name what was made of it is called by its channel: "channel 4, tune".
  const names = [
    ...new Set(
      parts?.map(({ track, channel }) =>
        track === '' || track.startsWith(', ') ? `channel ${channel}${track}` : track,
      ),
    ),
  ];
  const who =
    names.length === 0
      ? ''
      : names.length <= 3
        ? `${names.join(', ')}: `
        : `${names.length} parts: `;
  const where: string[] = file === undefined ? [] : [`in ${file}`];
  if (notes) where.push(`${notes.length} chosen ${notes.length === 1 ? 'note' : 'notes'}`);
  if (stretches)
    where.push(stretches.length === 1 ? 'in one place' : `in ${stretches.length} places`);
  if (maps && (fromTick !== undefined || toTick !== undefined)) {
    const from = maps.bars.barAt(fromTick ?? 0) + 1;
    const to = toTick === undefined ? null : maps.bars.barAt(Math.max(0, toTick - 1)) + 1;
    where.push(
      to === null ? `from bar ${from}` : from === to ? `bar ${from}` : `bars ${from}–${to}`,
    );
  }
  return upper(`${who}${does}${where.length > 0 ? `, ${where.join(', ')}` : ''}`);
}
