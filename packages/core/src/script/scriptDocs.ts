/** docs/scripts.md, from what the compiler and the completion are made of. */
import { EXAMPLE_TEXTS } from './exampleTexts.ts';
import { SCRIPT_WORDS, type ScriptWord } from './scriptWords.ts';

const table = (places: readonly ScriptWord['place'][]) => {
  const rows = SCRIPT_WORDS.filter(({ place }) => places.includes(place)).map(
    ({ written, says }) => `| \`${written.replaceAll('|', '\\|')}\` | ${says.replaceAll('|', '\\|')} |`,
  );
  return ['| written | what it is |', '|---|---|', ...rows].join('\n');
};

/** A page on scripts, as Markdown. */
export function scriptDocs(): string {
  const examples = Object.entries(EXAMPLE_TEXTS).map(
    ([name, text]) =>
      `- \`${name}.hxk.js\` – ${text
        .split('\n\n')[0]
        .replaceAll(/^\/\/ /gm, '')
        .replaceAll('\n', ' ')}`,
  );
  return `# Stages of your own, as text

A script is one text file, \`NAME.hxk.js\`, in a small part of ECMAScript. It is not run by a JavaScript engine: it is checked
and compiled to WebAssembly, gives the same samples in the page, in a worker, on the server and on the command line, and can
reach nothing but the sound it is given. A chain takes the text along, so it is whole by itself.

(Made by \`node scripts/write-script-docs.mjs\` from what the compiler and the editor’s completion are made of.)

## The first one

\`\`\`js
${EXAMPLE_TEXTS['repeat'].trimEnd()}
\`\`\`

Open the Script view, choose an example, “Make it mine”, and play a sound: each change that is in order is heard at once; one
that is not leaves the last good text sounding, and says line, column, what is wrong and what is allowed.

## Three forms

| export | called | gets → gives |
|---|---|---|
| \`channel()\` → \`(x, p) => y\` | once for each sample of each channel | a sample → a sample; mono stays mono |
| \`pair()\` → \`(left, right, p) => [left, right]\` | once for each sample | both sides together; a mono sound becomes stereo |
| \`clip(sound, out, p)\` | once | reads anywhere in the whole sound, writes anywhere in what comes out |

The outer function runs once before the first sample (for each side, in a channel) and takes all memory: lines, arrays and
units are made there, and a \`let\` in it is kept from sample to sample. A \`clip\` runs once and needs the whole sound: \`frames\` says how
long its result is, at most ten minutes, and \`origin\` where it begins; it has no \`beat\`, \`seconds\`, \`tempo\` and \`watch\`. While it
works it says how much is done, and can be stopped, wherever a loop of \`clip\` itself goes round.

## What a script says of itself

${table(['header'])}

## Settings

${table(['setting'])}

Each with \`doc\`: a sentence on what is heard when it rises. Texts such as \`'1 ms'\`, \`'1/8d'\` or \`'-6 dB'\` are read as typed values
are. \`p.time\` is the value at the sample, ramped, in seconds, hertz, decibels or shares. \`fixed: true\` is for what cannot move
while it runs: another value begins anew, crossfaded.

## What it is given

In the outer function:

${table(['unit'])}

Anywhere:

${table(['value'])}

Behind a unit’s name:

${table(['behind a unit'])}

## Mathematics

${table(['Math'])}

They are the core’s own: the same bits everywhere, standard at the corners.

## Allowed

\`const\`, \`let\` with a value, functions and arrow functions (none that calls itself), \`if\`, \`for\`, \`while\`, \`break\`, \`continue\`, \`return\`,
the conditional operator, arithmetic, comparison by \`===\`, logic, bit operations, numbers, \`true\` and \`false\`, comments.
Everything else is refused with its place: objects, classes, texts outside of the first lines, \`==\`, \`import\`, \`this\`, \`new\`, \`async\`,
spread, regular expressions, templates, and all names that are not listed here.

What differs from the standard: arrays read 0 outside and write nothing there, and a fractional index is cut; what is kept in a
\`let\`, an array or a line and lies below 1e-30 becomes 0; \`Math.random\` is \`noise()\`.

## Limits

256 KiB of text; 16 MiB of memory (10 s of lines), 64 MiB for all scripts of a chain, counted at 192 kHz; 2,000 steps a sample on
average. A step is an operation, a call, or a place that is read or written; a function of \`Math\` takes 20. What a sample takes at
the most is said before a script is added; one that takes more than 2,000 by its text alone is refused. Past them the sound
passes as it is from that sample on, live and rendered alike, and the line is named, in the Script view, on the meters, and with
the render. A script that takes more than 60 % of the time there is for 50 ms while it plays is muted, and that is said. What
comes out is held within ±64; a value that is no number silences its block, and lets the sound pass from the next on.
A \`clip\` has 10,000 steps for each frame of each channel, and is refused past them; a function that it calls has two billion
at one go.

## On the command line

\`\`\`
hexenkessel script check repeat.hxk.js
hexenkessel script explain repeat.hxk.js
hexenkessel render --script repeat.hxk.js --set time=1/4 --in in.wav --out out.wav
\`\`\`

Scripts in the folder that \`HEXENKESSEL_FAVOURITES\` names appear in the Script view and in “Add a stage”, its chains
(\`NAME.json\`) in the Library; they are never written.

## What ships

${examples.join('\n')}
`;
}
