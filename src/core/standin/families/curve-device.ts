import type { CurveBlock } from '../../target/curve-schema';
import type { Target } from '../../target/schema';
import { HAIR_US, keeps, seatOf } from '../device';
import type { Gathering } from '../played';
import type { StrictFile, StrictSetting } from '../strict-smf';

/** A value on its way through a device. */
interface Value {
  readonly us: number;
  readonly tick: number;
  readonly number: number;
  readonly value: number;
  readonly block: CurveBlock | null;
}

interface Knob {
  /** What it shows now, and where it is going: a slow one is on its way for a while. */
  value: number;
  heardUs: number;
  sentUs: number;
  readonly times: number[];
}

const BEND = 0xe0;
const END = 0x7fffffff;

/**
 * What listens to presets and values: it loads presets and is deaf meanwhile, drops what comes too
 * fast, and keeps what it was sent last. Heard from the settings of a file alone.
 */
export function playCurves(smf: StrictFile, path: string, target: Target, out: Gathering) {
  const settings = [...smf.settings].sort(
    (a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order,
  );
  out.lengthUs = Math.max(out.lengthUs, Math.round(smf.us(smf.endTick)));
  const channels = new Map<number, StrictSetting[]>();
  for (const s of settings) {
    const there = channels.get(s.channel);
    if (there) there.push(s);
    else channels.set(s.channel, [s]);
  }
  const inAll: number[] = [];
  for (const [channel, own] of channels) {
    const seat = seatOf(target.seats, { channel, track: null });
    if (!seat && target.seats.length > 0) {
      for (const s of own)
        drop(out, {
          us: smf.us(s.tick),
          seat: `channel ${channel}`,
          key: s.data1,
          path,
          because: `nobody listens on channel ${channel}`,
          block: 'seats',
        });
      continue;
    }
    new Unit(smf, path, target, out, seat?.id ?? `channel ${channel}`, inAll).play(own);
  }
  if (
    keeps(target.presets) &&
    target.presets?.firstAtStart &&
    !settings.some(isProgram) &&
    settings.length + smf.notes.length > 0
  )
    drop(out, {
      us: 0,
      seat: target.seats[0]?.id ?? '',
      key: 0,
      path,
      because: 'it begins with what was left there',
      block: 'presets',
      how: 'altered',
    });
  tails(smf, path, target, out);
}

const isProgram = (s: StrictSetting) => s.status === 0xc0;

interface Drop {
  us: number;
  seat: string;
  key: number;
  path: string;
  because: string;
  block: string;
  how?: 'silent' | 'altered';
}
const drop = (out: Gathering, { us, seat, key, path, because, block, how = 'silent' }: Drop) =>
  void out.dropped.push({
    atUs: Math.round(us),
    seat,
    key,
    file: path,
    because,
    block,
    how,
    writtenUs: Math.round(us),
  });

class Unit {
  private bank = 0;
  private bankUs = 0;
  private isBankNew = false;
  private loadedUs = -Infinity;
  private presetUs = -Infinity;
  private readonly knobs = new Map<number, Knob>();
  private readonly programs: number[];

  constructor(
    private readonly smf: StrictFile,
    private readonly path: string,
    private readonly target: Target,
    private readonly out: Gathering,
    private readonly seat: string,
    /** When values were taken, of all that share the line. */
    private readonly inAll: number[],
  ) {
    this.programs = [];
  }

  private say(us: number, key: number, because: string, block: string, how?: 'silent' | 'altered') {
    const { out, seat, path } = this;
    drop(out, { us, seat, key, path, because, block, ...(how ? { how } : {}) });
  }

  play(settings: readonly StrictSetting[]) {
    const { smf, target } = this;
    for (const s of settings) if (s.status === 0xc0) this.programs.push(s.tick);
    const quiet = keeps(target.start) ? (target.start?.quietMs ?? 0) * 1000 : 0;
    for (const s of settings) {
      const us = smf.us(s.tick);
      if (s.tick > 0 && us < quiet - 1) {
        this.say(us, s.data1, 'it is not ready yet', 'start');
        continue;
      }
      if (s.status === 0xc0) this.load(s, us);
      else if (s.status === 0xb0 && s.data1 === 0 && target.presets) {
        this.bank = s.data2;
        this.bankUs = us;
        this.isBankNew = true;
      } else if (s.status === 0xb0 || s.status === BEND) this.turn(s, us);
    }
    this.end();
  }

  private load({ tick, data1 }: StrictSetting, us: number) {
    const { presets } = this.target;
    if (!presets) return;
    const strict = keeps(presets);
    const { bankWithinMs, apartMs, loadMs = 0, firstAtStart, list } = presets;
    if (this.isBankNew && strict && bankWithinMs !== undefined)
      if (us - this.bankUs > bankWithinMs * 1000 + HAIR_US)
        this.say(us, data1, 'it has forgotten the bank', 'presets', 'altered');
    this.isBankNew = false;
    const preset = list.find((p) => p.bank === this.bank && p.program === data1);
    if (strict && !preset) return this.say(us, data1, 'it has no such preset', 'presets');
    if (strict && apartMs !== undefined && us - this.presetUs < apartMs * 1000 - HAIR_US)
      return this.say(us, data1, 'it is still loading the one before', 'presets');
    if (strict && firstAtStart && this.presetUs === -Infinity && tick > 0)
      this.say(us, data1, 'it began with what was left there', 'presets', 'altered');
    if (strict) this.lead(tick, us, data1);
    this.presetUs = us;
    this.loadedUs = us + loadMs * 1000;
    // Its switches go where the preset has them.
    for (const [number, knob] of this.knobs)
      if (this.isSwitch(number)) knob.value = preset?.on?.includes(number) ? 127 : 0;
    for (const number of preset?.on ?? []) this.knob(number).value = 127;
    this.out.events.push({
      atUs: Math.round(us),
      lengthUs: Math.round(loadMs * 1000),
      kind: 'preset',
      seat: this.seat,
      key: data1,
      value: this.bank,
      text: preset?.name ?? '',
      file: this.path,
    });
  }

  /** How long before its place it comes: that is what is heard. */
  private lead(tick: number, us: number, program: number) {
    const { leadLeastMs, leadMostMs, leadTo = 'markers' } = this.target.presets!;
    if (tick === 0 || (leadLeastMs === undefined && leadMostMs === undefined)) return;
    const { smf } = this;
    let place: number | null = null;
    if (leadTo === 'markers')
      for (const m of smf.texts) {
        if (m.type !== 6 || m.tick === 0) continue;
        const far = Math.abs(smf.us(m.tick) - us);
        if (far > 4_000_000) continue;
        const best = place === null ? Infinity : Math.abs(place - us);
        if (far < best || (far === best && smf.us(m.tick) > place!)) place = smf.us(m.tick);
      }
    place ??= nearestBar(smf, tick, us);
    const lead = place - us;
    if (lead < (leadLeastMs ?? 0) * 1000 - 1)
      this.say(us, program, 'it is not there when its place comes', 'presets', 'altered');
    else if (lead > (leadMostMs ?? Infinity) * 1000 + 1)
      this.say(us, program, 'it comes before its place', 'presets', 'altered');
  }

  private isSwitch(number: number): boolean {
    const block = this.blockOf(0xb0, number);
    return block?.values?.length === 2 && block.values.includes(0) && block.values.includes(127);
  }

  private blockOf(status: number, number: number): CurveBlock | null {
    return (
      this.target.curves?.list.find((b) =>
        status === BEND ? b.bend === true : b.controllers?.includes(number),
      ) ?? null
    );
  }

  private knob(number: number): Knob {
    const there = this.knobs.get(number) ?? { value: 0, heardUs: -Infinity, sentUs: 0, times: [] };
    this.knobs.set(number, there);
    return there;
  }

  private turn({ status, tick, data1, data2 }: StrictSetting, us: number) {
    const { target } = this;
    const number = status === BEND ? 128 : data1;
    const value = status === BEND ? data2 * 128 + data1 : data2;
    const block = this.blockOf(status, data1);
    if (!block) return;
    this.take({ us, tick, number, value, block }, keeps(block) && keeps(target.curves));
  }

  private take({ us, tick, number, value, block }: Value & { block: CurveBlock }, strict: boolean) {
    const { target } = this;
    const knob = this.knob(number);
    const silent = (because: string) => this.say(us, number, because, 'curves');
    if (strict) {
      const full = number === 128 ? 16_383 : 127;
      const { lowest = 0, highest = full, values, apartMs, whileLoading, settledMs } = block;
      if (values && !values.includes(value)) return silent('it does not know this value');
      if (value < lowest || value > highest)
        this.say(us, number, 'it stops at its bound', 'curves', 'altered');
      if (whileLoading === 'missed' && us < this.loadedUs - 1)
        return silent('it is loading a preset');
      if (apartMs !== undefined && us - knob.heardUs < apartMs * 1000 - HAIR_US)
        return silent('it follows too soon');
      if (block.perSecond !== undefined && !room(knob.times, us, block.perSecond))
        return silent('it comes too fast');
      if (settledMs !== undefined && tick > 0 && this.movesInto(tick, us, settledMs))
        this.say(us, number, 'it was still moving when the preset changed', 'curves', 'altered');
    }
    if (keeps(target.curves) && target.curves?.perSecond !== undefined)
      if (!room(this.inAll, us, target.curves.perSecond)) return silent('too much comes at once');
    knob.heardUs = us;
    const { lowest = 0, highest = 16_383 } = block;
    knob.value = Math.max(lowest, Math.min(highest, value));
    this.out.events.push({
      atUs: Math.round(us),
      kind: 'level',
      seat: this.seat,
      key: number,
      value: knob.value,
      file: this.path,
    });
  }

  private movesInto(tick: number, us: number, settledMs: number): boolean {
    let [low, high] = [0, this.programs.length];
    while (low < high) {
      const mid = (low + high) >> 1;
      if (this.programs[mid]! <= tick) low = mid + 1;
      else high = mid;
    }
    const next = this.programs[low] ?? END;
    return next !== END && this.smf.us(next) - us < settledMs * 1000 - 1;
  }

  private end() {
    const { target, smf, knobs } = this;
    if (!keeps(target.curves)) return;
    for (const [number, knob] of knobs) {
      const block = this.blockOf(number === 128 ? BEND : 0xb0, number);
      if (!block || !keeps(block) || block.rest === undefined || knob.value === block.rest)
        continue;
      if (knob.heardUs === -Infinity) continue;
      this.say(
        smf.us(smf.endTick),
        number,
        'it stays as it is when all is over',
        'curves',
        'altered',
      );
    }
  }
}

/** Whether one more is taken; a second may lack a microsecond, as every clock of the device may. */
function room(times: number[], us: number, perSecond: number): boolean {
  if (times.length >= perSecond && us - times[times.length - perSecond]! < 999_999) return false;
  times.push(us);
  return true;
}

function nearestBar(smf: StrictFile, tick: number, us: number): number {
  const meters = [...smf.meters].sort((a, b) => a.tick - b.tick || a.order - b.order);
  let [at, length, next] = [0, smf.ppq * 4, 0];
  for (;;) {
    while (next < meters.length && meters[next]!.tick <= at) {
      length = (smf.ppq * 4 * meters[next]!.numerator) / meters[next]!.denominator;
      next++;
    }
    if (at + length > tick) break;
    at += length;
  }
  const [before, after] = [smf.us(at), smf.us(at + length)];
  return at > 0 && us - before < after - us ? before : after;
}

/** What holds of the whole file: tempos that follow too soon, and a tail that is cut. */
function tails(smf: StrictFile, path: string, { tempo, end }: Target, out: Gathering) {
  const at = { seat: 'conductor', key: 0, path, how: 'altered' as const };
  if (keeps(tempo) && tempo?.apartMs !== undefined) {
    let last = -Infinity;
    for (const t of [...smf.tempos].sort((a, b) => a.tick - b.tick || a.order - b.order)) {
      const us = smf.us(t.tick);
      if (us - last < tempo.apartMs * 1000 - 1)
        drop(out, { ...at, us, because: 'it has not settled to the tempo before', block: 'tempo' });
      last = us;
    }
  }
  if (!keeps(end) || end?.tailMs === undefined) return;
  if (smf.settings.length + smf.notes.length === 0) return;
  let last = 0;
  for (const s of smf.settings) last = Math.max(last, s.tick);
  for (const n of smf.notes) last = Math.max(last, n.offTick);
  const left = smf.us(smf.endTick) - smf.us(last);
  if (left < end.tailMs * 1000 - 1)
    drop(out, { ...at, us: smf.us(smf.endTick), because: 'its tail is cut', block: 'end' });
}
