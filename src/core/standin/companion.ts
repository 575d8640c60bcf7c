import type { Target } from '../target/schema';
import { keeps } from './device';
import type { DeliveredFile, Gathering } from './played';

/** How long a WAV of PCM lasts, strictly: a canonical head, and all that it claims. */
export function waveUs(bytes: Uint8Array): { us: number } | { at: number; says: string } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 44 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE')
    return { at: 0, says: 'It is no WAV file.' };
  if (tag(12) !== 'fmt ' || view.getUint32(16, true) !== 16 || view.getUint16(20, true) !== 1)
    return { at: 12, says: 'Its samples are not plain PCM.' };
  if (tag(36) !== 'data') return { at: 36, says: 'Its samples do not follow its head.' };
  const channels = view.getUint16(22, true);
  const rate = view.getUint32(24, true);
  const perSecond = view.getUint32(28, true);
  const frame = view.getUint16(32, true);
  const bits = view.getUint16(34, true);
  const dataBytes = view.getUint32(40, true);
  if (channels === 0 || rate === 0 || frame !== (channels * bits) / 8 || perSecond !== rate * frame)
    return { at: 22, says: 'Its head contradicts itself.' };
  if (44 + dataBytes + (dataBytes % 2) !== bytes.length)
    return { at: 40, says: 'It is cut off, or longer than it says.' };
  if (view.getUint32(4, true) + 8 !== bytes.length)
    return { at: 4, says: 'It is cut off, or longer than it says.' };
  return { us: Math.round((dataBytes / frame / rate) * 1_000_000) };
}

/** The sound that a delivery names: it has to be there where the target takes one along. */
export function companion(
  named: { file: string; lengthUs: number | null } | null,
  by: string,
  files: readonly DeliveredFile[],
  target: Target,
  out: Gathering,
) {
  const sounds = files.filter((f) => f.path.endsWith('.wav') && !f.path.endsWith('-link.wav'));
  if (!named) {
    for (const s of sounds) out.refuse(s.path, 'name', 'Nothing names this sound.');
    return;
  }
  out.shows.push(`${by} sound ${named.file} ${named.lengthUs ?? 'of unknown length'}`);
  const takes = target.outputs.some((o) => o.writer === 'sound');
  const sound = files.find((f) => f.path === named.file);
  for (const s of sounds) if (s !== sound) out.refuse(s.path, 'name', 'Nothing names this sound.');
  if (!sound) {
    // A name alone is of a sound that is there already. One with a length came along.
    if (takes && named.lengthUs !== null)
      out.refuse(by, 'sound.file', `There is no ${named.file}.`);
    return;
  }
  const length = waveUs(sound.bytes);
  if ('says' in length) return out.refuse(sound.path, length.at, length.says);
  if (named.lengthUs !== null && Math.abs(length.us - named.lengthUs) > 1)
    out.refuse(by, 'sound.lengthUs', `${named.file} lasts ${length.us} µs.`);
  let sum = 0;
  for (const b of sound.bytes) sum = (Math.imul(sum, 31) + b) | 0;
  out.shows.push(`${sound.path} ${sum >>> 0}`);
  endings(length.us, target, out);
}

/** Both end together, or the shorter one ends the show. */
function endings(us: number, { end }: Target, out: Gathering) {
  if (!keeps(end)) return;
  const within = toleranceUs(end!, out.rate);
  if (within !== null && Math.abs(us - out.lengthUs) > within + 1)
    out.dropped.push({
      atUs: Math.min(us, out.lengthUs),
      seat: '',
      key: -1,
      file: '',
      because: 'the shorter of sound and score ends the show',
      block: 'end',
      how: 'altered',
      writtenUs: Math.min(us, out.lengthUs),
    });
}

/** What runs by frames is as long as so many of them: up to half of one is lost in its length. */
function toleranceUs(
  { soundWithinMs, soundWithinFrames }: NonNullable<Target['end']>,
  rate: number | undefined,
): number | null {
  if (soundWithinMs !== undefined) return soundWithinMs * 1000;
  if (soundWithinFrames === undefined || rate === undefined) return null;
  return ((soundWithinFrames + 0.5) * 1_000_000) / rate;
}
