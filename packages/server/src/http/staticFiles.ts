import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { extname, join } from 'node:path';
import type { Middleware } from 'koa';
import { sendFile, type SentFile } from './sendFile.ts';

/** Compressed when the page was built: the names that HTTP has for how, best first, and how such files end. */
const PACKED = [
  ['br', '.br'],
  ['gzip', '.gz'],
] as const;
type Coding = (typeof PACKED)[number][0] | 'identity';

/** Files whose names change with their content. */
const HASHED = /^\/assets\//;

/**
 * Sends the files of a folder as they were when the server started: compressed as the browser takes it, by ETag, in parts
 * where asked; nothing where the folder is not there yet. What has a hash in its name is kept for good; the rest is asked for anew, and mostly not sent again.
 */
export function staticFiles(folder: string): Middleware {
  const files = existsSync(folder) ? listFiles(folder) : new Map<string, never>();
  return async (context, next) => {
    const forms = context.method === 'GET' || context.method === 'HEAD' ? files.get(context.path) : undefined;
    if (!forms) return next();
    // In our order: browsers name all they take with the same weight.
    const coding = [...forms.keys()].find((name) => context.acceptsEncodings(name) === name) ?? 'identity';
    context.type = extname(context.path);
    context.vary('Accept-Encoding');
    if (coding !== 'identity') context.set('Content-Encoding', coding);
    sendFile(
      context,
      forms.get(coding)!,
      HASHED.test(context.path) ? 'public, max-age=31536000, immutable' : 'no-cache',
    );
  };
}

/** Every file by its path in the address, in each form it is there in. */
function listFiles(folder: string): ReadonlyMap<string, ReadonlyMap<Coding, SentFile>> {
  const entries = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  const paths = new Set(entries.map((entry) => join(entry.parentPath, entry.name)));
  const found = new Map<string, Map<Coding, SentFile>>();
  for (const path of paths) {
    const coding = PACKED.find(([, ending]) => path.endsWith(ending) && paths.has(path.slice(0, -ending.length)));
    if (coding) continue;
    const forms = new Map<Coding, SentFile>();
    for (const [name, ending] of PACKED) if (paths.has(path + ending)) forms.set(name, sentFile(path + ending));
    forms.set('identity', sentFile(path));
    found.set(
      path
        .slice(folder.length)
        .replaceAll('\\', '/')
        .replace(/^(?!\/)/, '/'),
      forms,
    );
  }
  return found;
}

function sentFile(path: string): SentFile {
  const content = readFileSync(path);
  return { path, bytes: content.length, sha256: createHash('sha256').update(content).digest('hex') };
}
