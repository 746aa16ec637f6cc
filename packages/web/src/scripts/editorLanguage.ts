/** What the editor knows of scripts: completion, and a sentence on whatever is pointed at. */
import { autocompletion, type Completion, type CompletionContext } from '@codemirror/autocomplete';
import { hoverTooltip } from '@codemirror/view';
import { SCRIPT_WORDS, type ScriptWord } from '@hexenkessel/core/script';

const TYPES: Readonly<Record<ScriptWord['place'], string>> = {
  header: 'keyword',
  setting: 'class',
  unit: 'class',
  value: 'function',
  Math: 'function',
  'behind a unit': 'method',
};

const optionOf = ({ name, written, says, place }: ScriptWord): Completion => ({
  label: name,
  detail: written,
  info: says,
  type: TYPES[place],
});
const of = (...places: readonly ScriptWord['place'][]) =>
  SCRIPT_WORDS.filter(({ place }) => places.includes(place)).map(optionOf);

const AFTER_MATH = of('Math');
const AFTER_UNIT = of('behind a unit');
const ANYWHERE = [...of('unit', 'value', 'setting'), { label: 'Math', detail: 'sin, tanh, pow …', type: 'namespace' }];

function complete(context: CompletionContext) {
  const behind = context.matchBefore(/\b[\w$]+\.\w*/);
  if (behind) {
    const [owner] = behind.text.split('.');
    const from = behind.from + owner.length + 1;
    if (owner === 'Math') return { from, options: AFTER_MATH };
    if (owner === 'p') return { from, options: settingsIn(context.state.doc.toString()) };
    return { from, options: AFTER_UNIT };
  }
  const word = context.matchBefore(/\w+/);
  if (!word && !context.explicit) return null;
  return { from: word?.from ?? context.pos, options: ANYWHERE };
}

/** Settings as far as they can be told from a text that need not be in order. */
function settingsIn(text: string): Completion[] {
  const kinds = SCRIPT_WORDS.filter(({ place }) => place === 'setting').map(({ name }) => name);
  const declared = text.matchAll(new RegExp(`\\b(\\w+):\\s*(?:${kinds.join('|')})\\(`, 'g'));
  return [...new Set([...declared].map(([, name]) => name))].map((label) => ({ label, type: 'property' }));
}

export const scriptCompletion = autocompletion({ override: [complete], icons: false });

export const scriptHover = hoverTooltip((view, at) => {
  const { text, from } = view.state.doc.lineAt(at);
  const word = [...text.matchAll(/[\w$]+/g)].find(
    ({ index, 0: found }) => from + index <= at && at <= from + index + found.length,
  );
  if (!word) return null;
  const begin = from + word.index;
  const inMath = text.slice(0, word.index).endsWith('Math.');
  const behind = text.slice(0, word.index).endsWith('.') && !inMath;
  const found = SCRIPT_WORDS.find(
    ({ name, place }) => name === word[0] && (place === 'Math') === inMath && (place === 'behind a unit') === behind,
  );
  if (!found) return null;
  return {
    pos: begin,
    end: begin + word[0].length,
    above: true,
    create: () => {
      const dom = document.createElement('div');
      dom.className = 'script-hover';
      const written = dom.appendChild(document.createElement('code'));
      written.textContent = found.written;
      dom.appendChild(document.createElement('p')).textContent = found.says;
      return { dom };
    },
  };
});
