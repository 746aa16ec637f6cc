import { Command } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { describeRange, labelOf, printSetting, stepsText, type SettingValue } from '@hexenkessel/core/stages';
import { scriptSteps, type CompiledScript } from '@hexenkessel/core/script';
import { readScriptFile } from './files.ts';

/** The rate it is compiled for where there is no sound at hand. */
const RATE = 48000;

export function scriptCommand(): Command {
  const command = new Command('script')
    .description('Checks stages that are written as text, and explains what they say of themselves.')
    .addHelpText(
      'after',
      '\nExamples:\n  $ hexenkessel script check repeat.hxk.js\n  $ hexenkessel script explain repeat.hxk.js',
    );
  command
    .command('check')
    .description('Says what is wrong with scripts: line, column, and what is allowed.')
    .argument('<file...>', 'scripts, NAME.hxk.js')
    .exitOverride()
    .action(async (files: string[]) => {
      const faults: string[] = [];
      for (const file of files) {
        try {
          const { header, form } = await readScriptFile(file, RATE);
          console.log(`${file}: valid – ${header.title}, ${form.bytes.length} bytes compiled${taking(form, ', ')}`);
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          faults.push(...error.faults);
        }
      }
      if (faults.length > 0) throw new InputError(faults[0], { faults });
    });
  command
    .command('explain')
    .description('Says what a script is and what can be set.')
    .argument('<file>', 'a script, NAME.hxk.js')
    .exitOverride()
    .action(async (file: string) => explain(await readScriptFile(file, RATE)));
  return command;
}

/** What a sample takes; nothing for a whole clip. */
function taking({ cost }: CompiledScript['form'], before: string): string {
  return cost ? `${before}${stepsText(scriptSteps(cost))}` : '';
}

function explain({ header, form }: CompiledScript): void {
  console.log(`${header.title} (${header.family})\n${header.summary}${taking(form, '\ntakes ')}`);
  if (header.keywords.length > 0) console.log(`found by: ${header.keywords.join(', ')}`);
  for (const [key, param] of Object.entries(header.params)) {
    const begins = printSetting(param, ('default' in param ? param.default : '') as SettingValue);
    console.log(`\n${labelOf(key, param)}: ${describeRange(param)}, default ${begins}\n  ${param.doc}`);
  }
}
