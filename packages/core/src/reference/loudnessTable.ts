import type { Catalogue } from '../catalogue/catalogue.ts';
import { FAMILIES } from '../stages/contract.ts';
import { resolveSetting } from '../params/params.ts';

const TIMING = { tempo: 120, meter: [4, 4] } as const;

/** How much louder each stage may make a sound, as a page in Markdown. */
export function loudnessTable(catalogue: Catalogue): string {
  const rows = FAMILIES.flatMap((family) => catalogue.stages.filter((stage) => stage.family === family)).map(
    (stage) => {
      const { title, kind, params, mayRise } = stage;
      if (!mayRise) return `| ${title} | \`${kind}\` | – | 0 LU |`;
      const defaults = Object.fromEntries(
        Object.entries(params).map(([key, param]) => [key, resolveSetting(param, param.default, TIMING, 48000)]),
      );
      const most = mayRise
        .most(defaults as never, {})
        .toFixed(1)
        .replace('.0', '');
      return `| ${title} | \`${kind}\` | ${mayRise.by} | ${most} LU |`;
    },
  );
  return [
    '# How much louder a stage may make a sound',
    '',
    'Measured after ITU-R BS.1770 on sounds of −18 LUFS, all wet and at level 0: a voice, drums, a chord, a tone and noise,',
    'mono and stereo, at 44.1, 48 and 96 kHz. A search over the whole scale of every setting finds no more than 2 LU above',
    'what stands here (`packages/core/src/stages/loudness.test.ts`; `npm run long` looks further). What the stages inside',
    'another one add comes on top. Written by `npm run loudness` from what each stage declares.',
    '',
    '| Stage | Kind | By what | At its defaults |',
    '| --- | --- | --- | --- |',
    ...rows,
    '',
  ].join('\n');
}
