import * as z from 'zod';
import { sayLater } from '../diagnostic/later-version';
import { sayIssue } from '../diagnostic/say-issue';
import { encodeUtf8 } from '../smf/text';

/** Our bookkeeping in a folder that a set was handed over into; no target reads it. */
export const MANIFEST = 'quill-manifest.json';
/** What a handover is about to write, until its manifest stands: it may have been cut. */
export const BEGUN = 'quill-manifest.begun.json';
export const MANIFEST_VERSION = 1;

const file = z.strictObject({
  path: z.string().min(1).max(1000),
  bytes: z.int().min(0),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
});

const ManifestSchema = z.strictObject({
  format: z.literal('quill-manifest'),
  version: z.literal(MANIFEST_VERSION),
  set: z.strictObject({ id: z.string().min(1).max(100), title: z.string().max(300) }),
  /** What the user calls this card. */
  card: z.string().max(300),
  /** Counted from 1; a handover that changed nothing is none. */
  handover: z.int().min(1),
  /** A day, such as 2031-05-04. */
  written: z.string().max(40),
  songs: z
    .array(
      z.strictObject({
        key: z.string().min(1).max(100),
        title: z.string().max(300),
        target: z.string().max(100),
        /** What of the paths is the set’s and not the target’s: empty, or a folder and its `/`. */
        folder: z.string().max(200),
        files: z.array(file).max(10_000),
      }),
    )
    .max(2000),
});

export type Manifest = Readonly<z.infer<typeof ManifestSchema>>;

export const writeManifest = (manifest: Manifest): Uint8Array =>
  encodeUtf8(`${JSON.stringify(manifest, null, 2)}\n`);

export type ReadManifest =
  | { readonly manifest: Manifest; readonly problem?: undefined }
  | { readonly manifest?: undefined; readonly problem: string };

/** A manifest that was read from a card: nothing that it names is trusted to lie in its folder. */
export function parseManifest(bytes: Uint8Array): ReadManifest {
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return {
      problem: `${MANIFEST} is not whole, so what of this folder is ours is not known.`,
    };
  }
  const later = sayLater(data, 'version', MANIFEST_VERSION);
  if (later !== null) return { problem: `${MANIFEST}: ${later}` };
  const result = ManifestSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `${MANIFEST}, ${issue.path.join('.') || 'as a whole'}: ${sayIssue(issue)}` };
  }
  const out = result.data.songs.flatMap((s) => s.files).find((f) => !isInside(f.path));
  if (out) return { problem: `${MANIFEST}: ${out.path} does not lie in this folder.` };
  return { manifest: result.data };
}

/** A path that stays in the folder that it is of. */
export const isInside = (path: string): boolean =>
  !path.startsWith('/') &&
  !path.includes('\\') &&
  !/^[a-z]:/i.test(path) &&
  path.split('/').every((name) => name !== '' && name !== '.' && name !== '..');
