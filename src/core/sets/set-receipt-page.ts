import { receiptPage } from '../handover/receipt-page';
import { markup } from '../outputs/markup';
import { encodeUtf8 } from '../smf/text';
import { count, plain } from '../target/words';
import { sayClock } from '../time/meter-map';
import type { SetReceipt } from './set-receipt';
import { sayBytes } from './write-card';

const items = (list: readonly string[]) =>
  list.length === 0 ? '' : `<ul>${list.map((i) => `<li>${markup(i)}</li>`).join('')}</ul>`;

/** Where the receipt of a song stands beside that of the set. */
export const songPage = (n: number): string => `songs/${String(n + 1).padStart(3, '0')}.html`;

function setPage(r: SetReceipt): string {
  const rows = r.songs.map(({ title, target, standing, facts, receipt }, i) => {
    const { stops, cautions, remarks } = facts.tally;
    const asMeant = receipt.rehearsed.asMeant ? 'plays as meant' : 'does not play as meant';
    const cells = [
      String(i + 1),
      `<a href="${songPage(i)}">${markup(title)}</a>`,
      markup(target),
      sayClock(facts.lengthMs),
      `${count(stops, 'stop')}, ${count(cautions, 'caution')}, ${count(remarks, 'remark')}`,
      `${plain(facts.kept)} %`,
      asMeant,
      standing === null ? '' : markup(standing),
      sayBytes(facts.files.reduce((n, f) => n + f.bytes, 0)),
    ];
    return `<tr>${cells.map((c) => `<td>${c}</td>`).join('')}</tr>`;
  });
  const clock = r.songs.reduce((ms, s) => ms + s.facts.lengthMs, 0);
  const wrote =
    r.written === null
      ? ''
      : `<p>Into ${markup(r.card || 'the folder')}: ${count(r.written.length, 'file')} written, ${r.removed.length} removed.</p>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${markup(r.set)}</title>
<style>body{font:16px/1.5 Georgia,serif;max-width:62rem;margin:2rem auto;padding:0 1rem;color:#2b2620}
table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #d9cfba;padding:.35rem .6rem;text-align:left}</style>
</head><body><h1>${markup(r.set)}</h1>
<p>${count(r.songs.length, 'song')}, ${sayClock(clock)}${r.handover === null ? '' : `, handover ${r.handover}`}.</p>${wrote}
<table><thead><tr><th></th><th>Song</th><th>Target</th><th>Length</th><th>Findings</th><th>Notes kept</th><th>In rehearsal</th><th>Before</th><th>Size</th></tr></thead>
<tbody>${rows.join('')}</tbody></table>
${r.notHandedOver.length > 0 ? `<h2>Not handed over</h2>${items(r.notHandedOver.map((n) => `${n.title}: ${n.because}`))}` : ''}
${r.findings.length > 0 ? `<h2>Songs beside each other</h2>${items(r.findings.map((f) => `${f.title}. ${f.says}`))}` : ''}
${r.keptTheirs.length > 0 ? `<h2>Left as somebody changed it</h2>${items(r.keptTheirs)}` : ''}
${r.checklist.length > 0 ? `<h2>At the far side</h2>${items(r.checklist)}` : ''}
</body></html>
`;
}

/** The receipt as files: data, a page, and a page for each song. */
export const setReceiptFiles = (r: SetReceipt): { path: string; bytes: Uint8Array }[] => [
  { path: 'receipt.json', bytes: encodeUtf8(`${JSON.stringify(r, null, 2)}\n`) },
  { path: 'receipt.html', bytes: encodeUtf8(setPage(r)) },
  ...r.songs.map((s, i) => ({
    path: songPage(i),
    bytes: encodeUtf8(receiptPage(s.receipt)),
  })),
];
