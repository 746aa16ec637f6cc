import { Command } from 'commander';
import { STAGES, describeRange, labelOf, printSetting, stageOf, type Stage } from '@hexenkessel/core';

export function stagesCommand(): Command {
  return new Command('stages')
    .description('Lists the stages, or explains one.')
    .argument('[kind]', 'stage to explain')
    .option('--json', 'prints the same as JSON', false)
    .action((kind: string | undefined, options: { json: boolean }) => {
      const stages = kind === undefined ? STAGES : [stageOf(kind)];
      if (options.json) console.log(JSON.stringify(stages));
      else if (kind === undefined)
        for (const stage of stages) console.log(`${stage.kind.padEnd(10)} ${stage.family.padEnd(9)} ${stage.summary}`);
      else explain(stages[0]);
    });
}

function explain(stage: Stage): void {
  console.log(`${stage.title} (${stage.kind}), ${stage.family}, ${stage.reach === 'clip' ? 'whole-clip' : 'live'}`);
  console.log(stage.summary);
  for (const [key, param] of Object.entries(stage.params)) {
    console.log(
      `\n  ${key} – ${labelOf(key, param)}: ${describeRange(param)}; default ${printSetting(param, param.default)}`,
    );
    console.log(`    ${param.doc}`);
  }
}
