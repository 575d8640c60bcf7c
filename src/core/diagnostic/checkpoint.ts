/** Calls with what is done so far; throws `Cancelled` when the user has had enough. */
export type Checkpoint = (done: number, total: number) => void;

export class Cancelled extends Error {
  constructor() {
    super('cancelled');
    this.name = 'Cancelled';
  }
}
