import { HeldSound } from '../../heldSound.ts';
import type { Ramp } from '../../../model/ramp.ts';
import { StateVariableFilter } from '../../../dsp/stateVariableFilter.ts';
import type { BranchProcessor, LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { frequency, sound } from '../../../params/params.ts';

export const LOWEST_LISTENED = 20; // Hz

/** The parameters of a stage whose level is controlled by another sound or its own. */
export const SIDE_PARAMS = {
  side: sound({
    label: 'sidechain',
    branches: true,
    without: 'uses its own input',
    needed: () => false,
    doc: 'The sound whose level controls this stage: another sound, looped from the start of the timeline, or an earlier branch. With none, the stage listens to its own input.',
  }),
  sideLowCut: frequency({
    label: 'sidechain low cut',
    default: LOWEST_LISTENED,
    min: LOWEST_LISTENED,
    max: 5000,
    off: 'min',
    doc: 'High-pass on the sidechain: what lies below is not listened to. Higher keeps a bass drum from controlling the stage.',
  }),
};

/** What a dynamics stage listens to: its own input or another sound, with the lows cut if wanted. */
export class SideInput {
  private readonly branch: BranchProcessor | undefined;
  private readonly held: HeldSound | undefined;
  private readonly heard: Float32Array[];
  private readonly filters: StateVariableFilter[];

  constructor(context: LiveContext) {
    const { sounds, side: sideOf, sampleRate, inputChannels } = context;
    const { side } = sounds;
    this.branch = sideOf('side');
    this.held = side && HeldSound.from(side, 'side', context);
    const channels = this.branch ? this.branch.output.length : side ? side.channels.length : inputChannels;
    this.heard = Array.from({ length: channels }, () => new Float32Array(BLOCK_FRAMES));
    this.filters = this.heard.map(() => new StateVariableFilter(sampleRate));
  }

  reset(): void {
    for (let c = 0; c < this.filters.length; c++) this.filters[c].reset();
  }

  /** The block that is listened to; may be the input itself. */
  read(input: readonly Float32Array[], frames: number, position: number, lowCut: Ramp): readonly Float32Array[] {
    const { held, heard, filters, branch } = this;
    const own = branch ? branch.output : input;
    if (!held && lowCut.start === LOWEST_LISTENED && lowCut.end === LOWEST_LISTENED) return own;
    if (held) held.read(heard, frames, position, true);
    else
      for (let c = 0; c < heard.length; c++) {
        const from = own[c];
        for (let i = 0; i < frames; i++) heard[c][i] = from[i];
      }
    if (lowCut.start > LOWEST_LISTENED || lowCut.end > LOWEST_LISTENED)
      for (let c = 0; c < heard.length; c++) filters[c].process(heard[c], frames, 'high', lowCut);
    return heard;
  }
}
