import { SpanList, defineRule, mend, mendBy, says, spanAt } from '../define-rule';
import { advanceEach } from '../../steps/advance-each';
import { callStep } from '../../steps/define-step';
import { captions as captionStep, captionsFrom, wrap } from '../../steps/facts';
import { count, plain, sayMs } from '../../target/words';
import { isIn } from '../../score/score';
import { turnInTime } from '../../steps/advances';

export const captionRule = defineRule({
  id: 'captions',
  summary: 'One advance for each caption, in time for its word, and captions that fit the display.',
  story: {
    why: 'Words and advances were made by two people.',
    mends: 'Captions are made from the lyrics or markers, broken at words, or turned earlier.',
  },
  block: 'captions',
  phase: 'events',
  codes: {
    'captions-none': says<{ notes: string }>({
      title: 'Captions missing',
      wrong: (f) => `There are ${f.notes} and no captions.`,
      then: (_, w) => `${w.Target} turns through empty pages.`,
    }),
    'captions-count': says<{ captions: string; notes: string }>({
      title: 'Page turns and captions differ in number',
      wrong: (f) => `There are ${f.captions} and ${f.notes}.`,
      then: (_, w) =>
        `${w.Target} turns one caption at each advance: from the first that is missing on it shows the wrong one.`,
    }),
    'caption-large': says<{ countText: string; lines: number; line: number; sample: string }>({
      title: 'Captions too long to show',
      wrong: (f) =>
        `${f.countText} more than ${f.lines} lines of ${f.line} characters, such as “${f.sample}”.`,
      then: (_, w) => `${w.Target} cuts what does not fit.`,
    }),
    'caption-lead': says<{ countText: string; worst: string; lowest: string; highest: string }>({
      title: 'Captions turned too early or late',
      wrong: (f) => `${f.countText} turned ${f.worst}.`,
      then: (f, w) =>
        `${w.Target} needs each ${f.lowest} to ${f.highest} ms before its first word.`,
    }),
  },
  check({ block, target, piece, maps, report }) {
    const list = piece.captions ?? [];
    const starts: { tick: number; part: number; index: number }[] = [];
    const parts = piece.score.parts.filter(isIn);
    parts.forEach((part, p) => {
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.noteNumber[i] === block.noteNumber)
          starts.push({ tick: part.notes.start[i]!, part: p, index: i });
    });
    starts.sort((a, b) => a.tick - b.tick);
    const notes = `${count(starts.length, 'advance')}`;
    const apart = target.spacing?.apartMs === undefined ? {} : { apartMs: target.spacing.apartMs };
    const each = callStep(advanceEach, {
      noteNumber: block.noteNumber,
      withinMs: block.leadMostMs ?? 2000,
      ...apart,
    });
    if (list.length === 0) {
      if (starts.length === 0) return;
      const from = captionsFrom(piece);
      const made = {
        longestLine: block.longestLine,
        mostLines: block.mostLines,
        ...apart,
      };
      report({
        code: 'captions-none',
        data: { notes },
        measured: { value: 0, unit: 'captions' },
        ...(from
          ? {
              mends: [
                mendBy(
                  `Make them from the ${from}, with an advance for each`,
                  callStep(captionStep, { from, ...made }),
                  each,
                ),
                mend(`Make them from the ${from}`, captionStep, { from, ...made }),
              ],
            }
          : { noMend: 'Paste them as a list in the step “Captions”.' }),
      });
      return;
    }
    if (list.length !== starts.length)
      report({
        code: 'captions-count',
        data: { captions: count(list.length, 'caption'), notes },
        measured: { value: starts.length, unit: 'advances' },
        allowed: { advances: list.length },
        mends: [mendBy('An advance for each caption', each)],
      });
    const large = list.filter((c) => {
      const rows = c.text.split('\n');
      return rows.length > block.mostLines || rows.some((r) => [...r].length > block.longestLine);
    });
    if (large.length > 0) {
      const wrapped = large.every((c) => {
        const rows = wrap(c.text.replace(/\n/g, ' '), block.longestLine).split('\n');
        return (
          rows.length <= block.mostLines && rows.every((r) => [...r].length <= block.longestLine)
        );
      });
      report({
        code: 'caption-large',
        spans: large.slice(0, 200).map((c) => spanAt(c.tick)),
        data: {
          countText: large.length === 1 ? 'One caption has' : `${large.length} captions have`,
          lines: block.mostLines,
          line: block.longestLine,
          sample: [...large[0]!.text].slice(0, 40).join(''),
        },
        measured: { value: large.length, unit: 'captions' },
        allowed: { mostLines: block.mostLines, longestLine: block.longestLine },
        ...(wrapped
          ? {
              mends: [
                mend('Break captions at words', captionStep, {
                  from: 'present' as const,
                  longestLine: block.longestLine,
                }),
              ],
            }
          : { noMend: 'Part them into more captions, each with an advance of its own.' }),
      });
    }
    if (list.length !== starts.length) return;
    const { leadLeastMs = 0, leadMostMs = Infinity } = block;
    const places = new SpanList();
    let worst = 0;
    let distance = 0;
    list.forEach((caption, k) => {
      const note = starts[k]!;
      const lead = maps.clock.msAt(caption.tick) - maps.clock.msAt(note.tick);
      const off = lead < leadLeastMs ? leadLeastMs - lead : lead - leadMostMs;
      if (off <= 1e-6) return;
      places.add(parts[note.part]!, note.index);
      if (off > distance) [distance, worst] = [off, lead];
    });
    if (places.count === 0) return;
    report({
      code: 'caption-lead',
      ...places.found,
      data: {
        countText: places.count === 1 ? 'One caption is' : `${places.count} captions are`,
        worst:
          worst < 0
            ? `up to ${sayMs(-worst)} ms after the word`
            : `up to ${sayMs(worst, leadMostMs)} ms before the word`,
        lowest: plain(leadLeastMs),
        highest: plain(leadMostMs),
      },
      measured: { value: Math.round(worst * 1000) / 1000, unit: 'ms' },
      allowed: { leadLeastMs, leadMostMs },
      mends: [
        mend('Turn each caption in time', turnInTime, {
          noteNumber: block.noteNumber,
          leadLeastMs,
          ...(Number.isFinite(leadMostMs) ? { leadMostMs } : {}),
        }),
      ],
    });
  },
});
