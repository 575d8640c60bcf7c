import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { db, storageProblem, type HandoverRow } from '../storage/db';
import type { JobRecord } from '../storage/job';
import { saveFile } from '../storage/save-file';
import { slugOf } from '../../core/target/words';
import { engine } from './engine';
import { useJob } from './job';

/** Handovers of the open job: numbered, kept with their receipts, repeated with one key. */
export const useHandover = defineStore('handover', () => {
  const job = useJob();
  const rows = shallowRef<readonly HandoverRow[]>([]);
  const problem = ref<string | null>(null);
  /** Open stops were named once; the same ones need not be named again. */
  const named = ref<string | null>(null);
  const asking = ref(false);
  let writing = false;

  async function load() {
    const id = job.record?.id;
    if (!id) return;
    const found = await db.handovers.where('jobId').equals(id).toArray();
    rows.value = found.sort((a, b) => b.at - a.at);
  }

  const openStops = () =>
    job.findings.filter((f) => f.severity === 'stop' && f.reason === null).map((f) => f.key);

  /** Writes, reads back, keeps and downloads. With stops open it asks first, once. */
  async function handOver(options: { anyway?: boolean } = {}): Promise<void> {
    const asked = job.request();
    const record = job.record;
    // One at a time: a double click is one handover.
    if (!asked || !record || !job.target || job.readOnly || writing) return;
    const stops = openStops().join('\n');
    if (stops !== '' && stops !== named.value && !options.anyway) {
      asking.value = true;
      return;
    }
    asking.value = false;
    named.value = stops;
    problem.value = null;
    writing = true;
    try {
      await write(asked, record);
    } finally {
      writing = false;
    }
  }

  async function write(asked: NonNullable<ReturnType<typeof job.request>>, record: JobRecord) {
    const target = asked.target;
    const number = (job.plan?.handovers ?? 0) + 1;
    const call = engine().ask(
      'handOver',
      { ...asked, job: record.title, handover: number },
      job.report,
    );
    const reply = await job.working('Writing and reading back', call);
    if (!reply) return;
    const packName = `${fileStem(record.title)}-${target.id}-${number}.zip`;
    try {
      await db.handovers.put({
        id: `${record.id}/${target.id}/${number}`,
        jobId: record.id,
        targetId: target.id,
        number,
        at: Date.now(),
        receipt: reply.receipt,
        pack: reply.pack.slice().buffer,
        packName,
      });
      await job.countHandover();
    } catch (error) {
      problem.value = storageProblem(error);
    }
    saveFile(reply.pack, packName, 'application/zip');
    await load();
  }

  const again = (row: HandoverRow) =>
    saveFile(new Uint8Array(row.pack), row.packName, 'application/zip');

  /** The receipt as a page of its own. */
  async function read(row: HandoverRow) {
    const unpacked = await engine().plain.unpack(row.pack.slice(0));
    if ('problem' in unpacked) return;
    const page = unpacked.files.find((f) => f.path === 'receipt.html');
    if (!page) return;
    const blob = new Blob([page.bytes as Uint8Array<ArrayBuffer>], { type: 'text/html' });
    const url = URL.createObjectURL(blob);
    window.open(url, '_blank', 'noopener');
    // The new page has read it by then.
    setTimeout(() => URL.revokeObjectURL(url), 60_000);
  }

  return { rows, problem, asking, load, handOver, again, read };
});

export const fileStem = (title: string): string => slugOf(title) || 'job';
