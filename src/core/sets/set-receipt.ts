import type { Receipt } from '../handover/receipt';
import type { SetFinding } from './rules';
import type { SongFacts } from './song-facts';
import type { CardWritten } from './write-card';

export interface SongInReceipt {
  readonly title: string;
  readonly target: string;
  /** How it stood in the folder before this; null where it goes out as a pack. */
  readonly standing: string | null;
  readonly facts: SongFacts;
  readonly receipt: Receipt;
}

/** One receipt over a whole set; that of each song stands behind it. */
export interface SetReceipt {
  readonly receiptVersion: 1;
  readonly set: string;
  readonly card: string | null;
  readonly handover: number | null;
  readonly songs: readonly SongInReceipt[];
  /** Songs of the set that were not handed over, with the reason. */
  readonly notHandedOver: readonly { readonly title: string; readonly because: string }[];
  readonly findings: readonly SetFinding[];
  readonly written: readonly string[] | null;
  readonly removed: readonly string[];
  readonly keptTheirs: readonly string[];
  readonly checklist: readonly string[];
}

export function makeSetReceipt(
  of: Omit<SetReceipt, 'receiptVersion' | 'written' | 'removed' | 'keptTheirs' | 'handover'>,
  written: CardWritten | null,
): SetReceipt {
  return {
    receiptVersion: 1,
    ...of,
    handover: written?.handover ?? null,
    written: written && written.written,
    removed: written?.removed ?? [],
    keptTheirs: written?.keptTheirs ?? [],
  };
}
