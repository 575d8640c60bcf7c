import { sayPlace } from '../../core/time/meter-map';
import { mapTick } from '../../core/time/time-map';
import { ref, shallowRef } from 'vue';
import { bytesOf, db, storageProblem, type HandoverRow } from '../storage/db';
import { withHandover, type JobRecord } from '../storage/job';
import { changeJob } from '../storage/jobs';
import {
  canWriteFolders,
  chooseFolder,
  keepFolder,
  keptFolder,
  writeFolder,
} from '../storage/folder';
import type { PackedFile } from '../storage/job-file';
import { saveFile, typeOf } from '../storage/save-file';
import { isUnsaid } from '../../core/target/unsaid';
import { slugOf } from '../../core/target/words';
import { engine } from './engine';
import { useShelf } from './shelf';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';

/** Handovers of the open job: numbered, kept with their receipts, repeated with one key. */
export const useHandover = defineJobPart(() => {
  const job = useJob();
  const rows = shallowRef<readonly HandoverRow[]>([]);
  const problem = ref<string | null>(null);
  /** Open stops were named once; the same ones need not be named again. */
  const named = ref<string | null>(null);
  const asking = ref(false);
  /** Where the files of this job go; null until a folder was chosen. */
  const folder = shallowRef<FileSystemDirectoryHandle | null>(null);
  const writtenTo = ref<string | null>(null);
  let writing = false;

  async function load() {
    const id = job.record?.id;
    if (!id) return;
    const still = job.still();
    const kept = await keptFolder(id);
    const found = await db.handovers.where('jobId').equals(id).toArray();
    if (!still()) return;
    writtenTo.value = null;
    folder.value = kept;
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
    if (isUnsaid(job.target)) {
      problem.value = 'Choose a target first: Intake asks for it, beside the sheet.';
      return;
    }
    if (job.standing === 'stopped') {
      problem.value =
        'This plan is not proofed: which stops are open is not known. Proof it first.';
      return;
    }
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

  /** What was heard for this target, with its place in what goes out. */
  const tried = ({ tried = [] }: JobRecord, targetId: string) => {
    const piece = job.shown?.delivered;
    return tried
      .filter((n) => n.targetId === targetId && piece)
      .map(({ tick, says, handover, done }) => ({
        where: sayPlace(piece!.bars.placeAt(mapTick(piece!.fromBase ?? undefined, tick))),
        says,
        handover,
        done,
      }));
  };

  async function write(asked: NonNullable<ReturnType<typeof job.request>>, record: JobRecord) {
    const target = asked.target;
    const number = (job.plan?.handovers ?? 0) + 1;
    const kept = record.sound && (await db.sources.get(record.sound.sha256));
    const sound =
      kept && record.sound
        ? { sound: { name: record.sound.name, bytes: await bytesOf(kept) } }
        : {};
    const call = engine().ask(
      'handOver',
      { ...asked, job: record.title, handover: number, tried: tried(record, target.id), ...sound },
      job.report,
    );
    const reply = await job.working('Writing and reading back', call);
    if (!reply) {
      // Given up by hand it is known; long work of a job that is left is given up with it.
      if (job.record?.id !== record.id)
        useShelf().problems.push(
          `${record.title} was left before its handover was written: nothing went out. Open it and hand it over again.`,
        );
      return;
    }
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
      if (job.record?.id === record.id) await job.countHandover(target.id, number);
      // It was left meanwhile: the number is taken all the same.
      else await changeJob(record.id, (left) => withHandover(left, target.id, number));
    } catch (error) {
      problem.value = storageProblem(error);
    }
    saveFile(reply.pack, packName, 'application/zip');
    await load();
  }

  const again = (row: HandoverRow) =>
    saveFile(new Uint8Array(row.pack), row.packName, 'application/zip');

  /** The files of a handover, out of its pack. */
  async function filesOf(row: HandoverRow): Promise<readonly PackedFile[]> {
    const unpacked = await engine().plain.unpack(row.pack.slice(0));
    if (!('problem' in unpacked)) return unpacked.files;
    problem.value = unpacked.problem;
    return [];
  }

  async function saveOne(row: HandoverRow, path: string) {
    const file = (await filesOf(row)).find((f) => f.path === path);
    if (file) saveFile(file.bytes, path.split('/').at(-1)!, typeOf(path));
  }

  /** Writes every file of a handover into a folder; asks for one first where none is known. */
  async function intoFolder(row: HandoverRow, options: { other?: boolean } = {}) {
    const id = job.record?.id;
    if (!id || !canWriteFolders()) return;
    problem.value = null;
    writtenTo.value = null;
    try {
      if (options.other || !folder.value) {
        const chosen = await chooseFolder();
        if (!chosen) return;
        folder.value = chosen;
        await keepFolder(id, chosen);
      }
      const files = await filesOf(row);
      await writeFolder(folder.value, files, (done) => job.report(done, files.length));
      writtenTo.value = `${files.length} files are in ${folder.value.name}.`;
    } catch (error) {
      problem.value = `The folder could not be written to. ${(error as Error).message} Choose another, or save the pack.`;
    }
  }

  /** The receipt as a page of its own. */
  async function read(row: HandoverRow) {
    const page = (await filesOf(row)).find((f) => f.path === 'receipt.html');
    if (!page) return;
    const blob = new Blob([page.bytes as Uint8Array<ArrayBuffer>], { type: 'text/html' });
    const url = URL.createObjectURL(blob);
    window.open(url, '_blank', 'noopener');
    // The new page has read it by then.
    setTimeout(() => URL.revokeObjectURL(url), 60_000);
  }

  return {
    rows,
    problem,
    asking,
    folder,
    writtenTo,
    load,
    handOver,
    again,
    read,
    filesOf,
    saveOne,
    intoFolder,
  };
});

export const fileStem = (title: string): string => slugOf(title) || 'job';
