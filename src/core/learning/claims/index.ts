import type { Claim } from './claim';
import { EVENTS } from './events';
import { FILE } from './file';
import { NOTES_CLAIMS } from './notes';
import { TIME } from './time';

export type { Claim } from './claim';
export { controllerClaims } from './events';

/** Everything that is tried as the reason, by the blocks of a target and the measures of a limit. */
export const CLAIMS: readonly Claim[] = [...FILE, ...TIME, ...NOTES_CLAIMS, ...EVENTS];
