/** Numbers of one file, by what they are numbers of; what it has nothing of is not there. */
export type Numbers = ReadonlyMap<string, readonly number[]>;

export type Put = (id: string, values: number | Iterable<number>) => void;
