import { BUILT_INS } from '../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { ClipCache } from '../engine/offline/cache.ts';
import { outlineOf, type Outline } from '../analysis/outline.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import { sheetHtml } from './html.ts';
import { sheetMarkdown } from './markdown.ts';
import { sheetOf, sheetRows } from './model.ts';
import { notesToHtml } from './notes.ts';

const chain = chainOf(
  [
    { kind: 'reverse' },
    { kind: 'hall', name: 'Bay | <b>', note: 'Wet\nalone.', mix: 0.4, settings: { decay: { beats: 8 } } },
    { kind: 'gain', on: false },
  ],
  {
    name: 'Tide',
    timing: { tempo: 93 },
    render: { tail: { mode: 'fixed', length: { beats: 8 } }, anchor: 'end' },
    about: {
      summary: 'A swell.',
      tags: ['reverse'],
      rating: 4,
      notes: '**Bold** <script>alert(1)</script> [x](javascript:alert(2)) <img src=x onerror=alert(3)>',
    },
  },
);
const rows = () => {
  const after = new Map<number, Outline>();
  const source = noise(4800);
  const render = finishRender(
    renderChain(BUILT_INS, { chain, source, sourceKey: 's', cache: new ClipCache(1e9) }),
    (step) => {
      if (step.type === 'stage') after.set(step.index, outlineOf(step.clip!));
    },
  );
  const [shown, result] = [source, render].map(outlineOf);
  return sheetRows(BUILT_INS, chain, { sampleRate: source.sampleRate, frames: 4800 }, { source: shown, after, result });
};

test('settings stand in words and units, the other units beside them', () => {
  const [, hall] = sheetOf(BUILT_INS, chain, []).stages;
  expect(hall.settings[0]).toMatchObject({ label: 'dry/wet mix', value: '40 %' });
  expect(hall.settings[1]).toMatchObject({ label: 'decay time', value: '8 beats', also: '5.161 s · 2 bars' });
  expect(hall.original).toBe('Hall reverb');
});

test('tempo and render behaviour are a sentence each', () => {
  const sheet = sheetOf(BUILT_INS, chain, []);
  expect(sheet.tempo).toBe(
    'It was made at 93 bpm in 4/4; tempo-synced: decay time of Bay | <b> (8 beats), the tail (8 beats).',
  );
  expect(sheet.render).toBe(
    'Its tail is 8 beats (5.161 s at 93 bpm), its lead-in is automatic, and its last sound is placed on the onset of the original.',
  );
  expect(sheetOf(BUILT_INS, chainOf([]), []).tempo).toContain('nothing is tempo-synced');
});

test('rows share one ruler that holds the lead-in and the tail', () => {
  const shown = rows();
  expect(shown.map(({ title }) => title)).toEqual(['source', 'Reverse', 'Bay | <b>', 'render']);
  expect(new Set(shown.map(({ overview }) => overview.start)).size).toBe(1);
  expect(shown[0].overview.start).toBeLessThan(0);
});

test('Markdown holds every stage, the notes and a link to its picture; table cells survive bars', () => {
  const text = sheetMarkdown(sheetOf(BUILT_INS, chain, rows()), 'Tide (1).svg');
  expect(text).toContain('# Tide');
  expect(text).toContain('### 3. Gain – bypassed');
  expect(text).toContain('| decay time | 8 beats | 5.161 s · 2 bars |');
  expect(text).toContain('![The sound after each stage](Tide%20%281%29.svg)');
  expect(sheetMarkdown(sheetOf(BUILT_INS, chain, rows()))).not.toContain('![');
  expect(text).toContain('> Wet\n> alone.');
  expect(text).toContain('Bay \\| <b>');
});

test('HTML is one file without scripts or addresses, and nothing of the designer’s can run', () => {
  const html = sheetHtml(sheetOf(BUILT_INS, chain, rows()));
  expect(html).toContain('<strong>Bold</strong>');
  expect(html).toContain('Bay | &lt;b&gt;');
  expect(html).toContain('<svg');
  expect(html).not.toMatch(/<script|onerror|javascript:|src=|href="http/);
});

test('notes are sanitised', () => {
  expect(notesToHtml('Fog <iframe src="https://x"></iframe><a onclick="x()">a</a> `code`')).toBe(
    '<p>Fog a <code>code</code></p>',
  );
});

test('notes fetch nothing from elsewhere: images become their texts, in HTML and Markdown', () => {
  const notes = [
    'Fog ![a *harbour*](https://x.example/a.png) here, ![](//x.example/b.png) and ![c][c].',
    '',
    '<img src="https://x.example/d.png">',
    '',
    '- [![e](https://x.example/e.png)](https://kept.example/)',
    '',
    '`![code](https://stays.example/)`',
    '',
    '[c]: https://x.example/c.png',
  ].join('\n');
  const html = notesToHtml(notes);
  expect(html).not.toMatch(/<img|x\.example/);
  expect(html).toContain('Fog a harbour here,  and c.');
  expect(html).toContain('<a href="https://kept.example/">e</a>');
  expect(html).toContain('![code](https://stays.example/)');
  const markdown = sheetMarkdown(sheetOf(BUILT_INS, chainOf([{ kind: 'filter' }], { about: { notes } }), []));
  expect(markdown).not.toMatch(/!\[(?!code)|<img/);
  expect(markdown).toContain('Fog a harbour here');
});

test('panel, movement and lanes are told: what users get, what moves by how much, what is drawn', () => {
  const moving = chainOf([{ kind: 'filter' }, { kind: 'hall' }], {
    panel: [
      {
        id: 'far',
        name: 'Far',
        note: 'How far | away.',
        words: ['near', 'far'],
        default: 0,
        value: 100,
        drives: [{ target: 'hall.mix', from: 0, to: 1 }],
      },
    ],
    modulators: [{ id: 'lamp', kind: 'lfo', name: 'Lamp', settings: { rate: { bars: 1 } } }],
    routes: [{ id: 'r', from: 'lamp', to: 'filter.cutoff', depth: 0.25, smoothing: 0.02 }],
    lanes: [{ target: 'filter.mix', curve: { over: 'beats', points: [{ at: 0, value: 1 }] } }],
    timing: { tempo: 93, follows: 'sound' },
    render: { tail: { mode: 'none' }, channels: 'stereo', level: { mode: 'loudness', to: -18 } },
  });
  const sheet = sheetOf(BUILT_INS, moving, []);
  expect(sheet.controls).toEqual([
    {
      name: 'Far',
      group: '',
      value: 'far',
      range: 'near … far',
      drives: ['Hall reverb, dry/wet mix: 0 % to 100 %'],
      note: 'How far | away.',
    },
  ]);
  expect(sheet.modulators[0].moves).toEqual(['Filter, cutoff by 25 % of its range, bipolar, smoothed over 20 ms']);
  expect(sheet.lanes).toEqual(['Filter, dry/wet mix: 1 breakpoint over beats']);
  expect(sheet.tempo).toBe(
    'It was made at 93 bpm in 4/4 and follows the tempo of the sound; tempo-synced: rate of Lamp (1 bar).',
  );
  expect(sheet.render).toMatch(/Output is stereo. Normalised to -18 LUFS.$/);
  const text = sheetMarkdown(sheet);
  expect(text).toContain('| Far | far | near … far | Hall reverb, dry/wet mix: 0 % to 100 % | How far \\| away. |');
  expect(text).toContain('### Lamp (LFO)');
  const html = sheetHtml(sheet);
  for (const part of ['<h2>Panel</h2>', '<h2>Modulation</h2>', '<h2>Automation</h2>', 'near … far'])
    expect(html).toContain(part);
});

test('a level has the unit that it is measured in', () => {
  const of = (measure: string) => {
    const normalised = chainOf([{ kind: 'normalise', settings: { measure, to: -16 } }]);
    return sheetOf(BUILT_INS, normalised, []).stages[0].settings.find(({ label }) => label === 'target level')?.value;
  };
  expect(['peak', 'true peak', 'loudness'].map(of)).toEqual(['−16 dBFS', '−16 dBTP', '−16 LUFS']);
  const [limiter] = sheetOf(BUILT_INS, chainOf([{ kind: 'limiter' }]), []).stages;
  expect(limiter.settings.find(({ label }) => label === 'ceiling')?.value).toMatch(/ dBTP$/);
});
