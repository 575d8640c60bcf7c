/** 0: no stop remains · 1: one does · 2: not usable · 3: a refusal of the stand-in that nothing explains. */
export type Status = 0 | 1 | 2 | 3;
export const worse = (a: Status, b: Status): Status => (a > b ? a : b);
