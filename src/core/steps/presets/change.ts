import { CONTROL, presetsIn, PROGRAM, type Preset } from '../../reading/curves';
import { isIn, type Part } from '../../score/score';
import type { StepInput } from '../define-step';
import { applyEdits, chosenParts, rawOf, type Edits } from '../curves/change';

/** Where a preset is to stand, and which it is to be. */
export interface Placed {
  readonly tick: number;
  readonly bank: number;
  readonly program: number;
  /** Written again although nothing of it differs: its bank comes to it. */
  readonly anew?: boolean;
}

/** A bank that no preset has: what was in force is gone. */
const NONE = -1;

/**
 * Changes the presets of the chosen parts, those of a channel together: each goes where it is told,
 * with its bank before it, or goes. Only what differs is written anew.
 */
export function changePresets(
  input: StepInput<unknown>,
  change: (presets: readonly Preset[]) => readonly (Placed | null)[],
  added: (presets: readonly Preset[], part: Part) => readonly Placed[] = () => [],
): { piece: StepInput<unknown>['piece']; changed: number; dropped: number; added: number } {
  const { piece, select } = input;
  const edits: Edits = new Map();
  const editOf = (part: Part) => {
    const there = edits.get(part) ?? { gone: new Set<number>(), added: [] };
    edits.set(part, there);
    return there;
  };
  const put = (part: Part, { tick, bank, program }: Placed) => {
    editOf(part).added.push([tick, rawOf(CONTROL, 0, bank)]);
    editOf(part).added.push([tick, rawOf(PROGRAM, 0, program)]);
  };
  let [changed, dropped, fresh] = [0, 0, 0];
  const parts = chosenParts(input);
  const byChannel = new Map<number, Preset[]>();
  for (const p of presetsIn(parts))
    byChannel.set(p.channel, [...(byChannel.get(p.channel) ?? []), p]);
  const channels = new Set([...byChannel.keys(), ...parts.map((p) => p.channel)]);
  for (const channel of channels) {
    const own = (byChannel.get(channel) ?? []).filter((p) => select.at(p.tick));
    const home = own[0]?.part ?? parts.find((p) => p.channel === channel && isIn(p));
    if (!home) continue;
    const next = change(own);
    // The bank that holds behind what was written so far; as it was where nothing was changed yet.
    let inForce: number | null = null;
    own.forEach((preset, i) => {
      const to = next[i];
      const same =
        to && to.tick === preset.tick && to.bank === preset.bank && to.program === preset.program;
      const hasBank = preset.sent !== null || inForce === null || inForce === preset.bank;
      if (same && !to.anew && hasBank) {
        if (preset.sent || inForce !== null) inForce = preset.bank;
        return;
      }
      editOf(preset.part).gone.add(preset.index);
      if (preset.sent) editOf(preset.sent.part).gone.add(preset.sent.index);
      if (!to) {
        dropped++;
        if (preset.sent) inForce ??= NONE;
        return;
      }
      if (!same) changed++;
      inForce = to.bank;
      put(preset.part, to);
    });
    for (const one of added(own, home)) {
      fresh++;
      put(home, one);
    }
  }
  return { piece: applyEdits(piece, edits), changed, dropped, added: fresh };
}
