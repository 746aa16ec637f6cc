import { FileMusic } from 'lucide-react';
import { edits } from '@hexenkessel/core/chain';
import { InputError, TempoMap, showSeconds } from '@hexenkessel/core/model';
import { useAppDispatch } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { edit } from '../chain/edit.ts';
import { readFile } from '../files/readFile.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { useFilePick } from '../parts/useFilePick.tsx';

/** Takes tempo and meter from a MIDI file, at the place that is worked on. `at`: seconds. */
export function MidiTempo({ at }: { readonly at: number }) {
  const dispatch = useAppDispatch();
  const take = async (file: File) => {
    try {
      const map = new TempoMap(await readFile('tempo', file));
      const { tempo, meter } = map.at(at);
      const rounded = Number(tempo.toFixed(4));
      dispatch(edit(edits.setTempo(rounded, `tempo from ${file.name}`, meter)));
      const changes = map.changes.length;
      tellDone(
        `${rounded} bpm, ${meter.join('/')}`,
        changes === 1
          ? `${file.name} has one tempo.`
          : `${file.name} has ${changes - 1} tempo or meter changes; the values at ${showSeconds(at)}, where the region begins, are used.`,
      );
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure('Tempo not imported', error.message);
    }
  };
  const pick = useFilePick('MIDI file', ['.mid', '.midi'], (file) => void take(file));
  return (
    <>
      {pick.input}
      <IconAction label="Tempo from a MIDI file" onClick={pick.open}>
        <FileMusic size={15} />
      </IconAction>
    </>
  );
}
