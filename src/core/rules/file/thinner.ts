import { BEND, type Curve } from '../../reading/curves';
import type { Piece } from '../../score/piece';
import type { StepCall } from '../../steps/call';
import { sayWanted, type Wanted } from '../../steps/curves/change';
import { thinCurve } from '../../steps/curves/thin';
import { callStep, everything } from '../../steps/define-step';

/** Fewer points than that are no curve: they set a value. */
const A_CURVE = 16;
/** How far a value may stand from what it was, of 128; a bend has as many steps in each of them. */
const BY = [0, 0.25, 0.5, 1, 2, 4];
const BEND_STEPS = 128;

/**
 * Glides between its values: no bank or data entry, no fine part of another, no switch, no parameter
 * number. MIDI 1.0, Table 3, “Control changes”.
 */
const glides = ({ kind, number }: Pick<Curve, 'kind' | 'number'>): boolean =>
  kind === BEND ||
  (kind === 0xb0 &&
    ((number >= 1 && number < 32 && number !== 6) ||
      (number >= 70 && number < 96 && number !== 84)));

export interface Thinner {
  readonly title: string;
  readonly calls: readonly StepCall[];
  readonly piece: Piece;
  readonly fits: boolean;
}

/** Bends and controllers thinned as little as makes it fit, or as much as can hardly be heard. */
export function thinner(
  piece: Piece,
  curves: Iterable<Curve>,
  fits: (piece: Piece) => boolean,
): Thinner | null {
  const own = [...curves].filter((c) => c.count >= A_CURVE && glides(c));
  if (own.length === 0) return null;
  const bend = own.some((c) => c.kind === BEND);
  const numbers = new Set(own.filter((c) => c.kind !== BEND).map((c) => c.number));
  const controllers = [...numbers].sort((a, b) => a - b);
  const by = (share: number): Thinner => {
    const wanted: [Wanted, number][] = [
      ...(bend ? [[{ bend }, share * BEND_STEPS] as [Wanted, number]] : []),
      ...(controllers.length > 0 ? [[{ controllers }, Math.floor(share)] as [Wanted, number]] : []),
    ];
    let now = piece;
    const calls = wanted.map(([which, within]) => {
      const params = { ...which, within, rests: true };
      const thinned = thinCurve.apply({ ...everything(now), params });
      if ('piece' in thinned) now = thinned.piece;
      return callStep(thinCurve, params);
    });
    const what = sayWanted({ ...(bend ? { bend } : {}), controllers });
    const title =
      share === 0
        ? `Thin ${what}, every value as it is`
        : `Thin ${what}, values within ${share} of 128`;
    return { title, calls, piece: now, fits: fits(now) };
  };
  let [few, many] = [0, BY.length - 1];
  let best = by(BY[many]!);
  if (!best.fits) return best;
  while (few < many) {
    const middle = (few + many) >> 1;
    const tried = by(BY[middle]!);
    if (tried.fits) [best, many] = [tried, middle];
    else few = middle + 1;
  }
  return best;
}
