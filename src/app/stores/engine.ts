import { EngineClient } from '../../worker/client';
import { db } from '../storage/db';

let client: EngineClient | null = null;

/** The one worker of this tab; sources come back from the database when it is built anew. */
export function engine(): EngineClient {
  client ??= new EngineClient(async (sha256) => {
    const row = await db.sources.get(sha256);
    return row ? { bytes: row.bytes, name: row.name } : null;
  });
  return client;
}
