import { LARGEST_FILE_BYTES } from '../../core/smf/limits';
import type { Learnt } from '../../core/learning/learn';
import type { SourceRef } from '../../worker/run-protocol';
import { engine } from '../stores/engine';

/** The narrowest target that takes all of these files; or why one of them was not read. */
export async function learnFrom(
  files: readonly File[],
  name: string,
): Promise<Learnt | { problem: string }> {
  const sources: SourceRef[] = [];
  for (const file of files) {
    if (file.size > LARGEST_FILE_BYTES)
      return {
        problem: `${file.name} is too large to be read: sources may have up to ${LARGEST_FILE_BYTES.toLocaleString('en-GB')} bytes.`,
      };
    const bytes = await file.arrayBuffer();
    const reply = await engine().open({ bytes, name: file.name }).result;
    if (!reply?.ok)
      return { problem: `${file.name}: ${reply?.problems.join(' ') ?? 'It was not read.'}` };
    sources.push({
      key: `file-${sources.length + 1}`,
      sha256: reply.source.sha256,
      name: file.name,
    });
  }
  const learnt = await engine().ask('learn', { sources, name }).result;
  return learnt ?? { problem: 'The files were not looked at to the end. Try once more.' };
}
