import type { Expression, ObjectExpression, Program, VariableDeclarator } from 'acorn';
import { InputError } from '../model/errors.ts';
import {
  choice,
  degrees,
  frequency,
  key,
  level,
  number,
  parseSetting,
  rate,
  ratio,
  resolveSetting,
  semitones,
  time,
  toggle,
  type Param,
  type SettingValue,
} from '../params/params.ts';
import { FAMILIES, type Family } from '../stages/contract.ts';
import { COMMON_METER, type Timing } from '../timing/tempo.ts';
import { constantOf } from './constants.ts';
import { ScriptError, type ScriptFault } from './faults.ts';
import { readExpression } from './headerExpression.ts';
import type { HeaderExpression } from './headerValue.ts';
import { placeOf } from './parse.ts';
import { Scope } from './scope.ts';

/** The version of the language that this program reads; what was written for an earlier one runs for ever. */
export const LANGUAGE = 1;
const LONGEST_TEXT = 300;
const MOST_PARAMS = 64;
const MOST_LATENCY = 48_000;
/** All that a script says of itself. */
const EXPORTED: readonly string[] = [
  'language',
  'title',
  'family',
  'summary',
  'keywords',
  'params',
  'groups',
  'tail',
  'latency',
  'mixLaw',
  'firstMix',
  'frames',
  'origin',
];

/** What a script says of the stage that it is. */
export interface ScriptHeader {
  readonly title: string;
  readonly family: Family;
  readonly summary: string;
  readonly keywords: readonly string[];
  readonly params: Readonly<Record<string, Param>>;
  /** Its settings by what they are about; all in one when left out. */
  readonly groups?: Readonly<Record<string, readonly string[]>>;
  /** How dry and wet are weighed. */
  readonly mixLaw: 'equal-power' | 'linear';
  readonly firstMix?: number;
  /** Seconds it rings on; left out where that follows from its lines. */
  readonly tail?: HeaderExpression;
  /** Frames by which it is late by its own working. */
  readonly latency: number;
  /** Of a whole clip: how many frames come out; as many as come in when left out. */
  readonly frames?: HeaderExpression;
  /** Of a whole clip: frames from where the sound begins to where the result does; 0 when left out. */
  readonly origin?: HeaderExpression;
}

/** Bounds in beats are those at this tempo, as in the stages that ship. */
const DEFAULT_TIMING: Timing = { tempo: 120, meter: COMMON_METER };

/** Settings on a scale, by what they are called in a script, and what a value is worth that stands there without a unit. */
const SCALED = { time, rate, level, ratio, semitones, frequency, degrees, number, key } as const;
/** Wide enough for whatever a declaration says; narrowed by it. */
const ANY = { min: -1e12, max: 1e12, doc: '' } as const;

/**
 * Reads what stands before the functions: `title`, `family`, `summary`, `keywords` and `params`. ScriptError with everything
 * that is wrong in it.
 */
export function readHeader(program: Program): ScriptHeader {
  return new HeaderReader(program).read();
}

/** What is known of a sound before anything is done to it. */
export const SOUND_FACTS = ['frames', 'sides', 'start', 'end'] as const;

interface ExpressionRule {
  readonly takes: readonly ('sound' | 'p')[];
  readonly says: string;
}
const TAIL: ExpressionRule = {
  takes: ['p'],
  says: 'seconds that it rings on, by numbers, settings, operators and Math: export const tail = (p) => p.time;',
};
const FRAMES: ExpressionRule = {
  takes: ['sound', 'p'],
  says: 'how many frames come out, by the sound, settings, operators and Math: export const frames = (sound, p) => 2 * sound.frames;',
};
const ORIGIN: ExpressionRule = {
  takes: ['sound', 'p'],
  says: 'frames from where the sound begins to where the result does: export const origin = (sound, p) => -sound.frames;',
};

class HeaderReader {
  private readonly exported = new Map<string, VariableDeclarator>();
  private readonly program: Program;
  private readonly faults: ScriptFault[] = [];

  constructor(program: Program) {
    this.program = program;
    for (const { type, ...node } of program.body) {
      if (type !== 'ExportNamedDeclaration') continue;
      const { declaration } = node as { declaration?: { type: string; declarations?: VariableDeclarator[] } | null };
      for (const one of declaration?.declarations ?? [])
        if (one.id.type === 'Identifier') this.exported.set(one.id.name, one);
    }
  }

  read(): ScriptHeader {
    const language = this.valueOf('language');
    if (language === undefined || constantOf(language, new Scope()) !== LANGUAGE)
      this.tell(language ?? this.program, `The script begins with: export const language = ${LANGUAGE};`);
    const family = this.text('family');
    if (family !== '' && !FAMILIES.includes(family as Family))
      this.tell(this.valueOf('family')!, `There is no family ${family}; there are ${FAMILIES.join(', ')}.`);
    const params = this.params();
    const [groups, firstMix] = [this.groups(params), this.number('firstMix', 0, 1)];
    const tail = this.expression('tail', params, TAIL);
    const [frames, origin] = [this.expression('frames', params, FRAMES), this.expression('origin', params, ORIGIN)];
    const header = {
      title: this.text('title'),
      family: family as Family,
      summary: this.text('summary'),
      keywords: this.keywords(),
      params,
      mixLaw: this.mixLaw(),
      latency: this.number('latency', 0, MOST_LATENCY) ?? 0,
      ...(groups && { groups }),
      ...(tail && { tail }),
      ...(frames && { frames }),
      ...(origin && { origin }),
      ...(firstMix !== undefined && { firstMix }),
    };
    for (const [name, { id }] of this.exported)
      if (!EXPORTED.includes(name))
        this.tell(id, `${name} is nothing that a script says of itself; ${EXPORTED.join(', ')} are.`);
    if (this.faults.length > 0) throw new ScriptError(this.faults);
    return header;
  }

  private tell(node: Parameters<typeof placeOf>[0], message: string): void {
    this.faults.push({ ...placeOf(node), message });
  }

  private valueOf(name: string): Expression | undefined {
    return this.exported.get(name)?.init ?? undefined;
  }

  private text(name: string): string {
    const node = this.valueOf(name);
    if (
      node?.type === 'Literal' &&
      typeof node.value === 'string' &&
      node.value.trim() !== '' &&
      node.value.length <= LONGEST_TEXT
    )
      return node.value.trim();
    this.tell(
      node ?? this.program,
      `A text of at most ${LONGEST_TEXT} characters is needed: export const ${name} = '…';`,
    );
    return '';
  }

  private keywords(): string[] {
    const node = this.valueOf('keywords');
    if (!node) return [];
    const words = node.type === 'ArrayExpression' ? node.elements.map(textOf) : [undefined];
    if (words.every((word) => word !== undefined)) return words;
    this.tell(node, "Keywords are texts: export const keywords = ['…', '…'];");
    return [];
  }

  private mixLaw(): ScriptHeader['mixLaw'] {
    const node = this.valueOf('mixLaw');
    const law = textOf(node);
    if (node && law !== 'linear' && law !== 'equal-power')
      this.tell(node, "mixLaw is 'linear' where the sound stays like itself, or 'equal-power' where it does not.");
    return law === 'equal-power' ? law : 'linear';
  }

  private number(name: string, min: number, max: number): number | undefined {
    const node = this.valueOf(name);
    if (!node) return undefined;
    const value = constantOf(node, new Scope());
    if (typeof value === 'number' && value >= min && value <= max && (name !== 'latency' || Number.isInteger(value)))
      return value;
    this.tell(node, `${name} is a ${name === 'latency' ? 'whole ' : ''}number from ${min} to ${max}.`);
    return undefined;
  }

  /** A number by settings: `tail`, and of a whole clip `frames` and `origin`, which hear of the sound, too. */
  private expression(
    name: string,
    params: Readonly<Record<string, Param>>,
    { takes, says }: ExpressionRule,
  ): HeaderExpression | undefined {
    const node = this.valueOf(name);
    if (!node) return undefined;
    const called = node.type === 'ArrowFunctionExpression' ? node.params : [];
    const body = node.type === 'ArrowFunctionExpression' ? node.body : node;
    const behind = new Map<string, { names: readonly string[]; called: string }>();
    takes.forEach((what, n) => {
      const one = called.at(n);
      if (one?.type !== 'Identifier') return;
      if (what === 'sound') behind.set(one.name, { names: SOUND_FACTS, called: 'sound.' });
      else behind.set(one.name, { names: Object.keys(params), called: '' });
    });
    const read =
      body.type === 'BlockStatement' || called.length > takes.length
        ? undefined
        : readExpression(body, { behind, alone: ['sampleRate'] });
    if (!read) this.tell(node, `${name} is ${says}`);
    return read;
  }

  private groups(params: Readonly<Record<string, Param>>): Record<string, string[]> | undefined {
    const node = this.valueOf('groups');
    if (!node) return undefined;
    const groups = new Map<string, string[]>();
    for (const property of node.type === 'ObjectExpression' ? node.properties : []) {
      if (property.type !== 'Property' || property.computed || property.value.type !== 'ArrayExpression') continue;
      const title = property.key.type === 'Identifier' ? property.key.name : textOf(property.key);
      const names = property.value.elements.map((one) => textOf(one) ?? '');
      if (title !== undefined) groups.set(title, names);
    }
    const grouped = [...groups.values()].flat();
    const all = Object.keys(params);
    if (grouped.length === all.length && all.every((name) => grouped.includes(name))) return Object.fromEntries(groups);
    this.tell(
      node,
      "groups names each setting once: export const groups = { 'repeats': ['time', 'amount'], 'tone': ['cutoff'] };",
    );
    return undefined;
  }

  private params(): Record<string, Param> {
    const node = this.valueOf('params');
    if (!node) return {};
    if (node.type !== 'ObjectExpression') {
      this.tell(node, 'Settings are declared by name: export const params = { amount: ratio({ … }) };');
      return {};
    }
    const params = new Map<string, Param>();
    for (const property of node.properties) {
      if (property.type !== 'Property' || property.computed || property.key.type !== 'Identifier' || property.method) {
        this.tell(property, 'A setting is a name and what it is: amount: ratio({ … })');
        continue;
      }
      const { name } = property.key;
      if (!/^[a-z][a-zA-Z0-9]*$/.test(name) || name in {})
        this.tell(
          property.key,
          `${name} is no name for a setting: it begins with a small letter and has letters and digits.`,
        );
      else if (params.has(name)) this.tell(property.key, `There are two settings ${name}.`);
      else {
        const param = this.param(property.value);
        if (param) params.set(name, param);
      }
    }
    if (params.size > MOST_PARAMS)
      this.tell(node, `There are ${params.size} settings; at most ${MOST_PARAMS} are allowed.`);
    return Object.fromEntries(params);
  }

  private param(node: Expression): Param | undefined {
    if (node.type !== 'CallExpression' || node.callee.type !== 'Identifier') {
      this.tell(node, `A setting is one of ${KINDS.join(', ')}.`);
      return undefined;
    }
    const { name } = node.callee;
    const given = node.arguments.at(-1);
    if (!KINDS.includes(name) || given?.type !== 'ObjectExpression') {
      this.tell(node, `A setting is one of ${KINDS.join(', ')}, each with { default: …, doc: '…' }.`);
      return undefined;
    }
    const said = this.said(given);
    const doc = textOf(said.get('doc'));
    if (doc === undefined || doc.trim() === '') {
      this.tell(given, "Say in a sentence what is heard when it rises: doc: '…'");
      return undefined;
    }
    try {
      if (name === 'toggle')
        return toggle({ default: constantOf(said.get('default') ?? given, new Scope()) === true, doc });
      if (name === 'choice') return this.choice(node.arguments[0] as Expression, said, doc);
      return this.scaled(name as keyof typeof SCALED, said, doc);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      this.tell(given, error.message);
      return undefined;
    }
  }

  private choice(options: Expression, said: ReadonlyMap<string, Expression>, doc: string): Param | undefined {
    const words = options.type === 'ArrayExpression' ? options.elements.map(textOf) : [];
    const known = words.filter((word) => word !== undefined);
    const first = textOf(said.get('default')) ?? known[0];
    if (known.length < 2 || known.length < words.length || !known.includes(first)) {
      this.tell(
        options,
        "A choice has two words or more, one of which it begins with: choice(['sine', 'saw'], { default: 'sine', … })",
      );
      return undefined;
    }
    return choice(known, { default: first, doc });
  }

  private scaled(kind: keyof typeof SCALED, said: ReadonlyMap<string, Expression>, doc: string): Param {
    const declare = SCALED[kind] as (declaration: object) => Param;
    const wide = declare({ ...ANY, default: 0 });
    const value = (name: string): SettingValue | undefined => {
      const one = said.get(name);
      if (!one) return undefined;
      const text = textOf(one);
      const plain = constantOf(one, new Scope());
      if (text === undefined && typeof plain !== 'number')
        throw new InputError(`${name} is a number, or a text such as '10 ms'.`);
      return text === undefined ? (plain as number) : parseSetting(wide, text, DEFAULT_TIMING.meter);
    };
    const bound = (name: 'min' | 'max', otherwise: number | undefined): number => {
      const found = value(name) ?? otherwise;
      if (found === undefined) throw new InputError(`A ${kind} needs ${name}.`);
      return resolveSetting(wide, found, DEFAULT_TIMING, 48000) as number;
    };
    const [min, max] = [bound('min', kind === 'ratio' ? 0 : undefined), bound('max', kind === 'ratio' ? 1 : undefined)];
    if (!(min < max)) throw new InputError('min lies below max.');
    const begins = value('default');
    if (begins === undefined) throw new InputError(`A ${kind} needs a default.`);
    const resolved = resolveSetting(wide, begins, DEFAULT_TIMING, 48000) as number;
    if (resolved < min || resolved > max) throw new InputError(`The default lies outside of ${min} to ${max}.`);
    // A scale by ratios has no way to 0.
    const curve =
      wide.type !== 'choice' && 'curve' in wide && wide.curve === 'log' && min <= 0 ? { curve: 'linear' } : {};
    return declare({ default: begins, min, max, doc, ...curve, ...(said.has('fixed') ? { fixed: true } : {}) });
  }

  /** What is said between braces, by its names. */
  private said({ properties }: ObjectExpression): Map<string, Expression> {
    const said = new Map<string, Expression>();
    for (const property of properties) {
      if (property.type !== 'Property' || property.computed || property.key.type !== 'Identifier') {
        this.tell(property, 'Between braces stand names and values.');
        continue;
      }
      if (!SAID.includes(property.key.name))
        this.tell(property.key, `${property.key.name} is nothing that is said of a setting; ${SAID.join(', ')} are.`);
      said.set(property.key.name, property.value);
    }
    return said;
  }
}

const KINDS: readonly string[] = [...Object.keys(SCALED), 'choice', 'toggle'];
const SAID: readonly string[] = ['default', 'min', 'max', 'doc', 'fixed'];

function textOf(node: { type: string; value?: unknown } | null | undefined): string | undefined {
  return node?.type === 'Literal' && typeof node.value === 'string' ? node.value : undefined;
}
