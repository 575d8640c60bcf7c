import type { Channel } from './channel';
import type { Module } from './module';
import type { PitchScale } from './pitch';
import type { SongOrder } from './song-order';

/** What an effect meets of the machine that plays, and may change of it. */
export interface PlayerState {
  readonly module: Module;
  readonly channels: readonly Channel[];
  readonly scale: PitchScale;
  /** Which row is played, and where effects send it. */
  readonly song: SongOrder;
  speed: number;
  tempo: number;
  globalVolume: number;
  readonly tickInRow: number;
  stopped: boolean;
  rowDelay: number;
  tickDelay: number;
  release(channel: Channel): void;
  again(channel: Channel): void;
  actOnBackground(channel: Channel, action: number): void;
}
