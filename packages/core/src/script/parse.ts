import { parse, type Node, type Program } from 'acorn';
import { ScriptError, type Place } from './faults.ts';

/** Characters of a script. */
const LONGEST = 256 * 1024;
/** How deep brackets and operators may stand in each other: the parser goes down as deep. */
const DEEPEST = 200;
/** How deep the parts of its tree may. */
const DEEPEST_TREE = 500;

/**
 * The syntax tree of a script (ESTree, ECMAScript 2024, as a module). ScriptError for what is no ECMAScript, too long or too
 * deep.
 */
export function parseScript(text: string): Program {
  if (text.length > LONGEST)
    throw new ScriptError([
      { line: 1, column: 1, message: `The script has ${text.length} characters; at most ${LONGEST} are allowed.` },
    ]);
  refuseDeep(text);
  const program = parsed(text);
  refuseDeepTree(program);
  return program;
}

function parsed(text: string): Program {
  try {
    return parse(text, { ecmaVersion: 2024, sourceType: 'module', locations: true });
  } catch (error) {
    // The parser goes down with the operators; how far it gets depends on the machine, but it is further than is allowed.
    if (error instanceof RangeError || /stack space/.test((error as Error).message))
      throw tooDeep({ line: 1, column: 1 });
    if (!(error instanceof SyntaxError)) throw error;
    const { line, column } = (error as SyntaxError & { readonly loc: Place }).loc;
    const message = error.message.replace(/ \(\d+:\d+\)$/, '');
    throw new ScriptError([{ line, column: column + 1, message: `${message}.` }]);
  }
}

const tooDeep = (place: Place) =>
  new ScriptError([
    { ...place, message: `Parts stand more than ${DEEPEST_TREE} deep in each other; take the expression apart.` },
  ]);

/** So that whatever goes down the tree later comes to its end, too. */
function refuseDeepTree(program: Program): void {
  const open: [Node, number][] = [[program, 0]];
  for (let next = open.pop(); next; next = open.pop()) {
    const [node, depth] = next;
    if (depth > DEEPEST_TREE) throw tooDeep(placeOf(node));
    for (const part of Object.values(node) as unknown[])
      for (const one of Array.isArray(part) ? (part as unknown[]) : [part])
        if (typeof one === 'object' && one !== null && 'type' in one) open.push([one as Node, depth + 1]);
  }
}

/** Before it is parsed, by counting brackets; what stands in texts counts, too, which only makes it stricter. */
function refuseDeep(text: string): void {
  let [depth, line, begin] = [0, 1, 0];
  for (let at = 0; at < text.length; at++) {
    const character = text[at];
    if (character === '\n') [line, begin] = [line + 1, at + 1];
    else if (character === '(' || character === '[' || character === '{') depth++;
    else if (character === ')' || character === ']' || character === '}') depth--;
    if (depth > DEEPEST)
      throw new ScriptError([
        { line, column: at - begin + 1, message: `Brackets stand ${DEEPEST} deep in each other; no more are allowed.` },
      ]);
  }
}

/** Where a part of the tree begins. */
export function placeOf({ loc }: Node): Place {
  const { line = 1, column = 0 } = loc?.start ?? {};
  return { line, column: column + 1 };
}
