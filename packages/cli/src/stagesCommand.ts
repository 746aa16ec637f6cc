import { Command } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import {
  BUILT_INS,
  FAMILY_TITLES,
  MODULATORS,
  didYouMean,
  modulatorReferenceOf,
  reference,
  referenceOf,
  searchReference,
  type ModulatorReference,
  type StageReference,
} from '@hexenkessel/core/stages';

export function stagesCommand(): Command {
  return new Command('stages')
    .description('The reference: lists stages and modulators, finds some by what they do, or explains one.')
    .argument('[kind]', 'stage to explain, or words for what it does')
    .option('--json', 'prints the same as JSON')
    .addHelpText(
      'after',
      '\nExamples:\n  $ hexenkessel stages\n  $ hexenkessel stages "slow down"\n  $ hexenkessel stages echo',
    )
    .action((kind: string | undefined, options: { json?: boolean }) => {
      const modulator = MODULATORS.find((one) => one.kind === kind);
      if (modulator) {
        const told = modulatorReferenceOf(modulator);
        if (options.json) console.log(JSON.stringify([told]));
        else explain({ ...told, familyTitle: 'modulators', measures: [] });
        return;
      }
      if (kind !== undefined && !BUILT_INS.knows({ kind })) {
        const found = searchReference(BUILT_INS, kind).map(referenceOf);
        const meant = found.length === 0 ? didYouMean(BUILT_INS, kind) : undefined;
        if (meant) throw new InputError(`No stage is called or does "${kind}". Did you mean "${meant}"?`);
        if (found.length === 0) BUILT_INS.of({ kind }); // says which there are
        if (options.json) console.log(JSON.stringify(found));
        else found.forEach(line);
        return;
      }
      if (kind !== undefined) {
        const stage = referenceOf(BUILT_INS.of({ kind }));
        if (options.json) console.log(JSON.stringify([stage]));
        else explain(stage);
        return;
      }
      if (options.json) console.log(JSON.stringify(reference(BUILT_INS).flatMap(({ stages }) => stages)));
      else
        for (const { family, stages } of reference(BUILT_INS)) {
          console.log(`\n${FAMILY_TITLES[family]}`);
          stages.forEach(line);
        }
      if (!options.json) {
        console.log('\nmodulators');
        MODULATORS.forEach(line);
      }
    });
}

function line({ kind, summary }: { readonly kind: string; readonly summary: string }): void {
  console.log(`  ${kind.padEnd(11)} ${summary}`);
}

type Explained = ModulatorReference & Pick<StageReference, 'measures'> & { readonly familyTitle: string };

function explain({ title, kind, familyTitle, summary, facts, keywords, params, measures }: Explained): void {
  console.log(`${title} (${kind}), ${familyTitle}`);
  console.log(summary);
  console.log(facts.join(' '));
  console.log(`Keywords: ${keywords.join(', ')}`);
  for (const { key, label, range, default: standard, doc, followsTempo, count } of params) {
    console.log(
      `\n  ${key} – ${label}: ${range}; default ${standard}${followsTempo ? '; tempo sync' : ''}${count > 1 ? `; ×${count}` : ''}`,
    );
    console.log(`    ${doc}`);
  }
  if (measures.length > 0) {
    console.log('\nTested tolerances:');
    for (const measure of measures) console.log(`  – ${measure}`);
  }
}
