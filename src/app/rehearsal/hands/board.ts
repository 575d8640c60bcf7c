import type { CurveBlock } from '../../../core/target/curve-schema';
import type { Happening, Played } from '../../../core/standin/played';
import type { Target } from '../../../core/target/schema';
import { Levels } from '../scenes/levels';
import { Timeline } from '../timeline';

/** What can be turned by degrees, and between which values. */
export interface Dial {
  readonly number: number;
  readonly name: string;
  readonly lowest: number;
  readonly highest: number;
  /** Values a second that the device takes. */
  readonly perSecond: number;
}

/** Presets, switches and the dial of an effects pedal by time, from what it played. */
export class Board {
  readonly presets: Timeline;
  readonly switches: readonly number[];
  readonly dial: Dial | null;
  private readonly levels: Levels;
  private readonly blocks: readonly CurveBlock[];

  constructor(
    played: Played,
    private readonly target: Target,
  ) {
    this.presets = new Timeline(played, ['preset']);
    this.levels = new Levels(played.events);
    this.blocks = target.curves?.list ?? [];
    this.switches = this.blocks
      .filter((b) => b.values?.length === 2)
      .flatMap((b) => b.controllers ?? []);
    const block = this.blocks.find((b) => !b.values && b.perSecond !== undefined);
    const [number] = block?.controllers ?? [];
    this.dial =
      block && number !== undefined
        ? {
            number,
            name: block.name,
            lowest: block.lowest ?? 0,
            highest: block.highest ?? 127,
            perSecond: block.perSecond ?? 40,
          }
        : null;
  }

  nameOf(number: number): string {
    const block = this.blocks.find((b) => b.controllers?.includes(number));
    const name = block?.name ?? 'Controller';
    return (block?.controllers?.length ?? 1) > 1 ? `${name} ${number}` : name;
  }

  listed(preset: Happening | null) {
    return (
      this.target.presets?.list.find(
        (p) => preset && p.bank === Number(preset.value) && p.program === preset.key,
      ) ?? null
    );
  }

  /** It loads, and hears nothing. */
  deaf(us: number): boolean {
    const preset = this.presets.last(us);
    return preset !== null && us - preset.atUs < (preset.lengthUs ?? 0);
  }

  /** Since when the state of a switch is what it is, where the music alone plays. */
  standing(number: number, us: number): { on: boolean; atUs: number } {
    const preset = this.presets.last(us);
    const last = this.levels.last(number, us);
    if (last && last.atUs >= (preset?.atUs ?? 0)) return { on: last.value >= 64, atUs: last.atUs };
    return { on: this.listed(preset)?.on?.includes(number) ?? false, atUs: preset?.atUs ?? 0 };
  }

  turned = (us: number) => (this.dial ? this.levels.last(this.dial.number, us) : null);
}
