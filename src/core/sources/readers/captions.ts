import { captionText } from '../../score/caption-text';
import { Gate, type Fault } from '../../score/gate';
import type { MadeScore, SourceReader } from './define-reader';
import { newFile } from './tracks';

const TIME = /^(?:(\d{2,}):)?([0-5]\d):([0-5]\d)[.](\d{3})$/;

const msOf = (stamp: string): number | null => {
  const found = TIME.exec(stamp);
  if (!found) return null;
  const [, h = '0', m, s, ms] = found;
  return (Number(h) * 3600 + Number(m) * 60 + Number(s)) * 1000 + Number(ms);
};

/** Tags of WebVTT are no words; what is written as a name of a letter is that letter. */
const plain = (line: string) =>
  line
    .replace(/<[^>]*>/g, '')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&nbsp;', ' ')
    .replaceAll('&amp;', '&')
    .trim();

/** WebVTT: captions, and an advance at the beginning of each, on the board’s channel and key. */
export const captionsReader: SourceReader = {
  id: 'captions',
  suits: (text) => text.startsWith('WEBVTT'),
  read(text): MadeScore {
    const lines = text.replace(/\r\n?/g, '\n').split('\n');
    const captions: { ms: number; text: string }[] = [];
    const doubts: Fault[] = [];
    const gate = new Gate();
    let until = 0;
    let end = 0;
    for (let at = 1; at < lines.length; at++) {
      if (!lines[at]!.includes('-->')) continue;
      const [from, to] = lines[at]!.split('-->').map((s) => s.trim().split(/\s+/)[0] ?? '');
      const [fromMs, toMs] = [msOf(from!), msOf(to!)];
      const place = `line ${at + 1}`;
      if (fromMs === null || toMs === null)
        return { fault: { place, says: `“${lines[at]!.trim()}” is no time line of WebVTT.` } };
      if (toMs <= fromMs) doubts.push({ place, says: 'A caption ends before it begins.' });
      if (fromMs < until)
        doubts.push({ place, says: 'A caption begins while the last one is shown.' });
      until = Math.max(until, toMs);
      // 1 ms a tick.
      const tick = gate.tick(fromMs, () => place, 'The caption');
      end = Math.max(
        end,
        gate.tick(toMs, () => place, 'The end of the caption'),
      );
      const shown: string[] = [];
      while (at + 1 < lines.length && lines[at + 1]!.trim() !== '') shown.push(plain(lines[++at]!));
      const words = gate.text(captionText(shown.join('\n')), () => place);
      if (words === '') doubts.push({ place, says: 'A caption has no words.' });
      else captions.push({ ms: tick, text: words });
      gate.one(() => place);
      if (gate.refused) return gate.refused;
    }
    if (captions.length === 0)
      return { fault: { place: 'line 1', says: 'There is no caption in it.' } };
    captions.sort((a, b) => a.ms - b.ms);
    const ppq = 500;
    const tracks = [
      {
        name: 'Advance',
        notes: captions.map(({ ms }, i) => ({
          tick: ms,
          length: Math.max(1, Math.min(100, (captions[i + 1]?.ms ?? Infinity) - ms)),
          channel: 12,
          key: 48,
          velocity: 100,
        })),
      },
    ];
    const lyrics = captions.map((c) => ({ tick: c.ms, text: `\n${c.text.replaceAll('\n', ' ')}` }));
    return {
      file: newFile(
        ppq,
        end,
        {
          tempos: [{ tick: 0, microsecondsPerQuarter: 500_000 }],
          meters: [{ tick: 0, numerator: 4, denominator: 4 }],
          markers: [],
          lyrics,
        },
        tracks,
      ),
      extras: {
        captions: captions.map((c) => ({ tick: c.ms, text: c.text })),
      },
      doubts,
    };
  },
};
