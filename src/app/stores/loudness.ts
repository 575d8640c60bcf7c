import { SILENT_DB } from '../../core/sound/levels';
import type { PartView } from '../../core/wire/view';
import { sideEngine } from './engine';
import { useJob } from './job';
import { usePlaying } from './playing';
import { NOTHING_TRIED, triedPlan, type Tried } from './tried';

/** What is listened to where nothing goes round. */
const STRETCH_MS = 6000;
const MOST_KEPT = 2000;

/** Mean loudness of parts as the bank here sounds them, in decibels of full scale; kept by plan. */
const measured = new Map<string, number>();

/** Null where it could not be measured; `SILENT_DB` where nothing is heard of the part. */
export async function loudnessOf(
  part: PartView,
  tried: Tried = NOTHING_TRIED,
): Promise<number | null> {
  const job = useJob();
  const playing = usePlaying();
  const request = job.request();
  const piece = job.shown?.delivered;
  if (!request || !piece) return null;
  if (part.columns.count === 0) return SILENT_DB;
  const first = piece.clock.msAt(part.columns.start[0]!);
  const { fromMs, toMs } = playing.loop ?? { fromMs: first, toMs: first + STRETCH_MS };
  const plan = triedPlan(request.plan, tried);
  const bankName = playing.banks.name.value ?? '';
  const { sources, target } = request;
  const key = JSON.stringify([sources, target.id, plan, part.ref, fromMs, toMs, bankName]);
  const known = measured.get(key);
  if (known !== undefined) return known;
  const asking = { ...request, plan, known: [], part: part.ref, fromMs, toMs, bankName };
  let db = await sideEngine().ask('loudness', asking).result;
  if (db === null) {
    const bank = await playing.banks.bytesNow();
    db = await sideEngine().ask('loudness', { ...asking, bank }).result;
  }
  if (db !== null) {
    if (measured.size >= MOST_KEPT) measured.clear();
    measured.set(key, db);
  }
  return db;
}
