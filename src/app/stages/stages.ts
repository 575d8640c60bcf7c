/** The stages of a job that do something, in the order of the work. */
export const STAGES = ['intake', 'seating', 'timing', 'proof', 'handover'] as const;
export type Stage = (typeof STAGES)[number];

export const isStage = (value: unknown): value is Stage => STAGES.includes(value as Stage);
