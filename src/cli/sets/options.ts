/** What a call of `set` says beside the set and what to do. */
export interface SetOptions {
  target?: string;
  recipe?: string;
  title?: string;
  out?: string;
  card?: string;
  receipt?: string;
  removeGone?: boolean;
  overTheirs?: boolean;
  accept?: boolean;
  take?: string[];
  light?: boolean;
  force?: boolean;
  json?: boolean;
}
