// Writes THIRD-PARTY-NOTICES.md: whose work is in what is installed to run, and under which licence. With --check it writes
// nothing and fails when the file is not what it would be.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const FILE = `${root}THIRD-PARTY-NOTICES.md`;

/** Inside the packages of the decoders, and the encoder, is compiled work of others. */
const WITHIN = [
  ['mpg123-decoder', 'mpg123 by Michael Hipp, Thomas Orgis and others', 'LGPL-2.1', 'https://www.mpg123.de'],
  [
    'ogg-opus-decoder',
    'libopus, libopusfile and libogg by the Xiph.Org Foundation',
    'BSD-3-Clause',
    'https://opus-codec.org',
  ],
  [
    '@wasm-audio-decoders/flac',
    'libFLAC by Josh Coalson and the Xiph.Org Foundation',
    'BSD-3-Clause',
    'https://xiph.org/flac',
  ],
  [
    '@wasm-audio-decoders/ogg-vorbis',
    'libvorbis and libogg by the Xiph.Org Foundation',
    'BSD-3-Clause',
    'https://xiph.org/vorbis',
  ],
  [
    'libflacjs',
    'libFLAC and libogg by Josh Coalson and the Xiph.Org Foundation',
    'BSD-3-Clause',
    'https://xiph.org/flac',
  ],
];
const TEXTS = { 'LGPL-2.1': 'LGPL-2.1.txt', 'LGPL-3.0-or-later': 'LGPL-3.0.txt', 'OFL-1.1': 'OFL-1.1.txt' };

const { packages } = JSON.parse(readFileSync(`${root}package-lock.json`, 'utf8'));
const used = Object.entries(packages)
  .filter(
    ([path, { dev, link, devOptional, optional }]) =>
      path.startsWith('node_modules/') && !dev && !devOptional && !optional && !link,
  )
  .map(([path, { version, license }]) => ({
    name: path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length),
    version,
    licence: license ?? 'not named',
    owners: ownersOf(path),
  }));

/** The lines of a package's licence that say whose it is. */
function ownersOf(path) {
  const folder = `${root}${path}`;
  if (!existsSync(folder)) return '';
  const file = readdirSync(folder).find((name) => /^licen[cs]e/i.test(name));
  if (!file) return '';
  const lines = readFileSync(`${folder}/${file}`, 'utf8').split('\n');
  const found = lines.map((line) => line.trim()).filter((line) => /^(\(c\)|copyright)\b.*\d{4}/i.test(line));
  return [...new Set(found)].slice(0, 4).join('; ').replaceAll('|', '/');
}

const licences = [...new Set(used.map(({ licence }) => licence))].sort();
const lines = [
  '# The work of others',
  '',
  'Hexenkessel is under the MIT licence (LICENSE). What is installed with it to run it is under the licences below; the texts',
  'lie in each package’s folder in `node_modules`, those that ask for it in [docs/licences](docs/licences). Written by',
  '`npm run notices` from the lock file.',
  '',
  '## Compiled into decoders and encoders',
  '',
  'These packages are small programs around compiled libraries. Each is loaded as a module of its own and can be replaced by',
  'another build of the same library: put it in the place of the package and install again.',
  '',
  '| package | holds | licence | source |',
  '|---|---|---|---|',
  ...WITHIN.map(([name, holds, licence, source]) => `| ${name} | ${holds} | ${named(licence)} | ${source} |`),
  '',
  '## Fonts',
  '',
  `Source Sans 3, Source Serif 4 and Source Code Pro, © Adobe (http://www.adobe.com/), with the reserved font name “Source”,`,
  `under the SIL Open Font License, ${named('OFL-1.1')}; through the packages of Fontsource. Sheets in HTML hold their Latin part.`,
  '',
  '## Packages by licence',
];
for (const licence of licences) {
  lines.push('', `### ${named(licence)}`, '');
  for (const { name, version, owners } of used
    .filter((one) => one.licence === licence)
    .sort((a, b) => (a.name < b.name ? -1 : 1)))
    lines.push(`- ${name} ${version}${owners ? `: ${owners}` : ''}`);
}
const text = `${lines.join('\n')}\n`;

function named(licence) {
  return TEXTS[licence] ? `[${licence}](docs/licences/${TEXTS[licence]})` : licence;
}

if (!process.argv.includes('--check')) writeFileSync(FILE, text);
else if (!existsSync(FILE) || readFileSync(FILE, 'utf8') !== text) {
  console.error('THIRD-PARTY-NOTICES.md is not what is installed: run “npm run notices”.');
  process.exit(1);
}
