import { config } from 'zod';

/**
 * To be read before anything that reads a schema. Schemas would try out whether code can be made of
 * text; the policy of the page forbids it, and each attempt is reported with its place in the script,
 * for which the script is parsed once more: 60 to 130 ms of each worker's start.
 */
config({ jitless: true });
