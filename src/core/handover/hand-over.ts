import { comparePieces } from '../compare/by-id';
import { readBack } from '../compare/read-back';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Finding } from '../rules/finding';
import type { CompanionSound, OutputFile } from '../outputs/define-writer';
import { writeOutputs } from '../outputs/index';
import { makeReceipt, type Receipt, type TriedInReceipt } from './receipt';
import { receiptPage } from './receipt-page';
import type { HeardSound } from '../sound/beside';
import { asDelivered } from '../reading/as-delivered';
import { proof } from '../rules/proof';
import { encodeUtf8 } from '../smf/text';
import type { Base } from '../sources/merge';
import { hearingOf } from '../target/hearing';
import type { Target } from '../target/schema';
import { rehearsalOf, type Rehearsal } from './rehearsal';
import { baseRendition } from '../plan/base';
import { ledgerOf } from './ledger';
import type { LeftAsIs, Plan } from '../plan/plan';
import type { PlanRun } from '../plan/run';

export interface HandoverInput {
  readonly job: string;
  readonly handover: number | null;
  readonly base: Base;
  readonly target: Target;
  readonly plan: Plan;
  readonly run: PlanRun;
  readonly findings: readonly Finding[];
  readonly leftAsIs: readonly LeftAsIs[];
  /** Length of the sound that plays beside it, where it is known. */
  readonly recordingMs?: number;
  readonly heard?: HeardSound;
  /** That sound itself, where it is delivered as well. */
  readonly sound?: CompanionSound | null;
  readonly tried?: readonly TriedInReceipt[];
  /** Lower-case hex; given by the platform. */
  readonly sha256: (bytes: Uint8Array) => Promise<string>;
  readonly checkpoint?: Checkpoint;
}

export interface Handover {
  readonly files: readonly OutputFile[];
  readonly receipt: Receipt;
  /** Writers that the target names and that there are not. */
  readonly unwritten: readonly string[];
  /** What the target’s device does with these bytes. */
  readonly rehearsal: Rehearsal;
}

/** Writes the files of a target, reads them back, rehearses them, and makes the receipt. */
export async function handOver(input: HandoverInput): Promise<Handover> {
  const { base, target, run, checkpoint, recordingMs } = input;
  const stages = 5;
  checkpoint?.(0, stages);
  const { files, losses, unwritten } = writeOutputs(run.rendition, target, input.sound ?? null);
  checkpoint?.(1, stages);
  const described = [];
  for (const file of files) {
    const piece = file.piece === undefined ? undefined : run.rendition.pieces[file.piece];
    described.push({
      path: file.path,
      bytes: file.bytes.length,
      sha256: await input.sha256(file.bytes),
      readBack: piece ? readBack(asDelivered(piece, target), file.bytes) : null,
      holds: file.holds,
    });
  }
  checkpoint?.(2, stages);
  const rehearsal = rehearsalOf(files, run.rendition, target, input.findings);
  checkpoint?.(3, stages);
  const steps = checkpoint ? { checkpoint } : {};
  const comparison = comparePieces(base.rendition.pieces, run.rendition.pieces, {
    hearing: hearingOf(target),
    ...steps,
  });
  // Held against the same sound as what is handed over.
  const sound = {
    ...(recordingMs === undefined ? {} : { recordingMs }),
    ...(input.sound ? { soundName: input.sound.name } : {}),
    ...(input.heard ? { heard: input.heard } : {}),
  };
  const before = proof({
    rendition: baseRendition(base, target),
    target,
    base,
    ...sound,
    ...steps,
  });
  checkpoint?.(4, stages);
  const receipt = makeReceipt({
    ...input,
    outcomes: run.outcomes,
    rendition: run.rendition,
    comparison,
    before,
    after: input.findings,
    losses,
    files: described,
    ledger: ledgerOf(base, run.rendition.pieces, files, target, !!input.sound),
    rehearsal,
  });
  const receipts: OutputFile[] = [
    { path: 'receipt.json', bytes: encodeUtf8(`${JSON.stringify(receipt, null, 2)}\n`) },
    { path: 'receipt.html', bytes: encodeUtf8(receiptPage(receipt)) },
  ];
  return { files: [...files, ...receipts], receipt, unwritten, rehearsal };
}
