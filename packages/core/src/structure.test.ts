/** Files and folders of the core know each other one way only, types included. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from 'vitest';

const ROOT = fileURLToPath(new URL('.', import.meta.url));

type Graph = ReadonlyMap<string, ReadonlySet<string>>;

function importsOfFiles(): Graph {
  const files = readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).filter(
    (file) => file.endsWith('.ts') && !file.endsWith('.test.ts') && !file.startsWith('testing'),
  );
  return new Map(
    files.map((file) => {
      const text = readFileSync(join(ROOT, file), 'utf8');
      const found = [...text.matchAll(/(?:from|import\(?) ?'(\.[^']+)'/g)];
      return [file, new Set(found.map(([, path]) => relative(ROOT, join(ROOT, dirname(file), path))))];
    }),
  );
}

/** The same between folders; the doors at the top, which gather what there is, are none. */
function importsOfFolders(files: Graph): Graph {
  const folders = new Map<string, Set<string>>();
  for (const [file, imported] of files) {
    const from = dirname(file);
    if (from === '.') continue;
    const known = folders.get(from) ?? new Set();
    for (const other of imported) if (dirname(other) !== from && dirname(other) !== '.') known.add(dirname(other));
    folders.set(from, known);
  }
  return folders;
}

/** A way from something back to itself, if there is one. */
function circleIn(graph: Graph): readonly string[] | undefined {
  const done = new Set<string>();
  const visit = (at: string, way: readonly string[]): readonly string[] | undefined => {
    const before = way.indexOf(at);
    if (before >= 0) return [...way.slice(before), at];
    if (done.has(at)) return undefined;
    for (const next of graph.get(at) ?? []) {
      const circle = visit(next, [...way, at]);
      if (circle) return circle;
    }
    done.add(at);
    return undefined;
  };
  for (const start of graph.keys()) {
    const circle = visit(start, []);
    if (circle) return circle;
  }
  return undefined;
}

describe('no circles', () => {
  const files = importsOfFiles();

  test('a circle would be found', () => {
    expect(files.size).toBeGreaterThan(200);
    expect([...files.values()].reduce((sum, { size }) => sum + size, 0)).toBeGreaterThan(800);
    const graph = new Map([
      ['a', new Set(['b', 'd'])],
      ['b', new Set(['c'])],
      ['c', new Set(['b'])],
    ]);
    expect(circleIn(graph)).toEqual(['b', 'c', 'b']);
  });

  test('of files', () => expect(circleIn(files)).toBeUndefined());
  test('of folders', () => expect(circleIn(importsOfFolders(files))).toBeUndefined());
});

describe('rooms', () => {
  /** What each may not know, whatever else it knows. */
  const CLOSED: readonly (readonly [string, readonly string[]])[] = [
    [
      'model',
      ['dsp', 'params', 'stages', 'modulation', 'chain', 'engine', 'analysis', 'formats', 'reference', 'sheet'],
    ],
    ['dsp', ['params', 'stages', 'modulation', 'chain', 'engine', 'analysis', 'formats', 'reference', 'sheet']],
    ['params', ['stages', 'chain', 'engine', 'analysis', 'formats', 'reference', 'sheet']],
    ['stages', ['heads', 'catalogue', 'pictures', 'chain', 'engine', 'formats', 'reference', 'sheet']],
    ['heads', ['catalogue', 'chain', 'engine', 'formats', 'reference', 'sheet']],
    ['catalogue', ['chain', 'engine', 'formats', 'reference', 'sheet']],
    ['chain', ['engine', 'formats', 'reference', 'sheet']],
    ['engine', ['formats', 'reference', 'sheet']],
  ];

  test.each(CLOSED)('%s knows nothing of what stands on it', (room, closed) => {
    const wrong = [...importsOfFiles()].flatMap(([file, imported]) =>
      file.startsWith(`${room}/`)
        ? [...imported]
            .filter((other) => closed.some((name) => other.startsWith(`${name}/`)))
            .map((other) => `${file} → ${other}`)
        : [],
    );
    expect(wrong).toEqual([]);
  });
});
