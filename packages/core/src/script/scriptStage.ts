import { defineClipStage, defineLiveStage, type Stage } from '../stages/contract.ts';
import { SCRIPT_KIND } from '../stages/language.ts';
import type { CompiledForm, FormFacts } from './compileForm.ts';
import type { ScriptHeader } from './header.ts';
import { scriptSteps } from './cost.ts';
import { clipExtent } from './clipExtent.ts';
import { valueOf } from './headerValue.ts';
import type { PreparedScript, ScriptRuntime } from './scriptRuntime.ts';

/** What a script says, as plain data. */
export interface ScriptSaid {
  readonly header: ScriptHeader;
  readonly facts: FormFacts;
}

/** Nanoseconds that a script takes for a frame that comes out, as a guess: what it does is not known before it runs. */
const COST = 100;

/** Makes a stage of a script; `compile` gives its code for a sample rate, `runtime` what runs it. */
export function scriptStage(
  { header, facts }: ScriptSaid,
  compile: (sampleRate: number) => CompiledForm,
  runtime: () => ScriptRuntime,
): Stage {
  const prepared = new Map<number, PreparedScript>();
  const begun = new Map<number, PreparedScript>();
  const prepare = (sampleRate: number): PreparedScript => {
    let known = prepared.get(sampleRate);
    if (!known) {
      const { bytes, ...own } = compile(sampleRate);
      prepared.set(sampleRate, (known = { module: new WebAssembly.Module(bytes), bytes, facts: own }));
    }
    return known;
  };
  const { title, family, summary, keywords, params, groups, mixLaw, firstMix, tail } = header;
  const told = {
    kind: SCRIPT_KIND,
    title,
    family,
    summary,
    keywords,
    params,
    mixLaw,
    ...(groups && { groups }),
    ...(firstMix !== undefined && { firstMix }),
  };
  if (facts.form === 'clip')
    return defineClipStage({
      ...told,
      transform: (clip, values, context) =>
        runtime().transform(prepare(clip.sampleRate), header, clip, values, context),
      estimate: (frames, values, sampleRate) => ({
        frames: clipExtent(header, values, {
          'sound.frames': frames,
          'sound.sides': 2,
          'sound.start': 0,
          'sound.end': frames,
          sampleRate,
        }).frames,
        cost: COST,
      }),
    });
  const latency = header.latency + facts.latency;
  return defineLiveStage({
    ...told,
    ...(facts.form === 'pair' ? { widens: true } : {}),
    // With noise, each side has its own.
    sidesApart: facts.form === 'channel' && facts.noise === undefined,
    hearsBeats: facts.places.some(([name]) => name !== 'seconds'),
    memoryBytes: facts.bytesOfMemory,
    ...(facts.cost && { steps: scriptSteps(facts.cost) }),
    ...(latency > 0 && { latencyFrames: () => latency }),
    tailSeconds: (values) => {
      if (!tail) return facts.lineSeconds;
      const seconds = Number(valueOf(tail, values));
      return seconds > 0 ? seconds : 0;
    },
    picture: ({ stage, values }) => runtime().picture(stage, values),
    prepare: ({ sampleRate }) => {
      const script = prepare(sampleRate);
      if (!begun.has(sampleRate)) begun.set(sampleRate, { ...script, begun: runtime().begin(script) });
      return { script: begun.get(sampleRate) };
    },
    create: (context) =>
      runtime().create(
        (context.prepared?.['script'] as PreparedScript | undefined) ?? prepare(context.sampleRate),
        header.params,
        context,
      ),
  });
}
