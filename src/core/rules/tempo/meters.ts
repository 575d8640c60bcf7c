export const sayMeter = (m: { numerator: number; denominator: number }) =>
  `${m.numerator}/${m.denominator}`;

type Denominator = 1 | 2 | 4 | 8 | 16 | 32 | 64 | 128;

export const meterParams = (m: { numerator: number; denominator: number }) => ({
  numerator: m.numerator,
  denominator: m.denominator as Denominator,
});
