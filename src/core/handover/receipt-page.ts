import { sayFigures } from '../compare/say-figures';
import { count, plain, sayKind, sayLoss } from '../target/words';
import { sayClock } from '../time/meter-map';
import { markup } from '../outputs/markup';
import type { Receipt } from './receipt';

const list = (items: readonly string[], none: string): string =>
  items.length === 0
    ? `<p>${markup(none)}</p>`
    : `<ul>${items.map((i) => `<li>${markup(i)}</li>`).join('')}</ul>`;

const tally = (t: Receipt['findingsAfter']): string =>
  `${count(t.stops, 'stop')}, ${count(t.cautions, 'caution')}, ${count(t.remarks, 'remark')}` +
  (t.leftAsIs > 0 ? `, ${t.leftAsIs} left as is` : '');

function sayRecording({
  name,
  lengthMs,
  rate,
  channels,
  changes,
  deliveredMs,
}: NonNullable<Receipt['recording']>): string {
  const kind =
    rate === null ? '' : `, ${plain(rate / 1000)} kHz, ${count(channels ?? 1, 'channel')}`;
  const changed =
    changes === 0
      ? 'as it came'
      : `${count(changes, 'change')}, ${sayClock(deliveredMs)} after them`;
  return `${name}: the recording beside it, ${sayClock(lengthMs)}${kind}, ${changed}`;
}

/** Notes stand by their parts; what each of them tells is listed where it is lost. */
const OF_NOTES = new Set(['notes', 'note numbers', 'velocities', 'lengths']);

/** One line where all files are shifted alike, else one for each that stands elsewhere. */
function sayShifts({ files, commonShiftMs }: Receipt): string[] {
  const say = (what: string, ms: number) =>
    ms === 0
      ? `${what} stands where it stood.`
      : `${what} stands ${plain(Math.abs(ms))} ms ${ms > 0 ? 'later' : 'earlier'} than in the source.`;
  const own = files.filter((f) => f.shiftMs !== null);
  if (own.every((f) => f.shiftMs === commonShiftMs))
    return [commonShiftMs === 0 ? 'Nothing was shifted.' : say('Everything', commonShiftMs)];
  return own.map((f) => say(f.path, f.shiftMs!));
}

/** What a listener follows of the source; nothing where there is nothing of it. */
function sayMusic({ music }: Receipt): string[] {
  const said = sayFigures(music);
  return said === '' ? [] : [`Of the music: ${said}.`];
}

/** The receipt as a page that needs nothing else. All text of the user's is escaped. */
export function receiptPage(r: Receipt): string {
  const c = r.changed;
  const changes = [
    [c.dropped, 'dropped'],
    [c.added, 'added'],
    [c.moved, 'moved on the clock'],
    [c.lengthChanged, 'of another length'],
    [c.keyChanged, 'on another key'],
    [c.velocityChanged, 'of another velocity'],
    [c.soundChanged, 'with another program, level or bend'],
  ] as const;
  const number = r.handover === null ? '' : ` · handover ${r.handover}`;
  const steps = r.plan.map((s) => {
    const did = s.refused ?? s.effect ?? '';
    const over = s.passedOver.length > 0 ? ` Not on ${s.passedOver.join('; ')}` : '';
    return `${s.says}${s.on ? '' : ' (switched off)'}${s.on && did ? `: ${did}` : ''}${over}`;
  });
  const sections = [
    [
      'What went in',
      list(
        [
          ...r.sources.flatMap((s) => [`${s.name}: ${s.use} (SHA-256 ${s.sha256})`, ...s.damage]),
          ...(r.recording ? [sayRecording(r.recording)] : []),
          ...r.remarks,
        ],
        'Nothing.',
      ),
    ],
    ['The plan', list(steps, 'No step: it goes out as it came.')],
    [
      'What was carried',
      list(
        [
          ...r.carried.parts.map(
            (p) =>
              `${p.name}${p.notes > 0 ? `: ${count(p.notes, 'note')}` : ''}, channel ${p.channel}` +
              (p.seat ? `, seat ${p.seat}` : ''),
          ),
          ...r.ledger
            .filter((l) => l.carried > 0 && !OF_NOTES.has(l.kind))
            .map((l) => sayKind(l.carried, l.kind)),
          ...sayMusic(r),
          ...sayShifts(r),
        ],
        'Nothing.',
      ),
    ],
    [
      'What changed against the source',
      list(
        [
          ...changes.filter(([n]) => n > 0).map(([n, word]) => `${count(n, 'note')} ${word}`),
          ...(r.curves ?? []),
        ],
        'No note: each keeps pitch, velocity, sound and time.',
      ),
    ],
    [
      'What was left out',
      list(
        [
          ...r.leftOut.parts.map((p) => `${p.name}: ${count(p.notes, 'note')}`),
          ...r.leftOut.losses.map((l) => sayLoss(l.count, l.what)),
          ...r.ledger
            .filter((l) => l.dropped > 0)
            .map(
              (l) =>
                `${sayKind(l.dropped, l.kind)} of ${l.had.toLocaleString('en-GB')}: in no file`,
            ),
        ],
        'Nothing.',
      ),
    ],
    [
      'Findings',
      `<p>Before: ${tally(r.findingsBefore)}. After: ${tally(r.findingsAfter)}.</p>` +
        list(
          r.openFindings.map((f) => `Still open, ${f.severity} (${f.where}): ${f.says}`),
          'None is open.',
        ) +
        (r.leftAsIs.length > 0
          ? list(
              r.leftAsIs.map((l) => `Left as is: ${l.says} Reason: ${l.reason}`),
              '',
            )
          : ''),
    ],
    [
      'Tried and heard',
      list(
        r.heard.map(
          (h) =>
            `${h.where}: ${h.says}${h.handover === null ? '' : ` (handover ${h.handover})`}` +
            (h.done ? ', done' : ''),
        ),
        'Nothing was noted.',
      ),
    ],
    [
      'Files',
      list(
        r.files.map(
          (f) =>
            `${f.path}, ${count(f.bytes, 'byte')}, SHA-256 ${f.sha256}, ` +
            {
              same: 'read back and the same',
              differs: 'read back and different: ',
              'not read': 'not read back',
            }[f.readBack] +
            f.differences.join(' ') +
            (f.plays === '' ? '' : `; plays ${f.plays}`) +
            f.complaints.map((c) => `; not loaded: ${c}`).join(''),
        ),
        'None.',
      ),
    ],
    [
      'Rehearsed',
      list(
        [
          r.rehearsed.standIn === null
            ? 'No stand-in is there for this target.'
            : r.rehearsed.asMeant
              ? `${r.rehearsed.standIn}: loaded, and plays as meant.`
              : `${r.rehearsed.standIn}: does not play all of it as meant.`,
          ...r.rehearsed.lost.map(
            (l) =>
              `${count(l.notes, 'note')} ${l.altered ? 'played differently' : 'not played'}: ${l.because}.` +
              (l.findings.length > 0
                ? ` Found before: ${l.findings.map((f) => f.says).join(' ')}`
                : ''),
          ),
          ...r.rehearsed.unexplained.map((u) => `Not explained by any finding: ${u}`),
        ],
        '',
      ),
    ],
    ['At the far side', `<ol>${r.checklist.map((l) => `<li>${markup(l)}</li>`).join('')}</ol>`],
  ];
  const body = sections.map(([title, html]) => `<h2>${title}</h2>${html}`).join('\n');
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Receipt: ${markup(r.job)}</title>
<style>
body{font:16px/1.5 "Source Serif 4",Georgia,serif;color:#1d2433;background:#fffdf8;max-width:46rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.6rem;margin-bottom:0}h2{font-size:1.05rem;border-bottom:1px solid #d9cfbb;margin-top:1.6rem}
li{overflow-wrap:anywhere}
</style></head><body>
<h1>${markup(r.job)}</h1>
<p>For ${markup(r.target.name)} (${markup(r.target.id)} ${markup(r.target.version)})${markup(number)}</p>
${body}
</body></html>
`;
}
