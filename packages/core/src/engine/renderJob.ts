/** What is rendered how: all of a sound or a region of it, in one pass over the file or in memory. Decided here for all who render. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { ChainDocument } from '../chain/schema.ts';
import { canStream } from './offline/liveSource.ts';
import { refusePlayedOnly } from './offline/headSource.ts';
import { renderRegion, type RegionRender } from './offline/region.ts';
import { renderChain, type RenderProcess, type RenderRequest } from './offline/renderer.ts';

/** What is asked for, but for the sound. */
export interface RenderJob {
  readonly chain: ChainDocument;
  /** All of the sound when left out. */
  readonly region?: RegionRender | undefined;
  /** True where the render is wanted in another form than it is made in, as at another rate: it is then held whole. */
  readonly held?: boolean | undefined;
}

/**
 * How a job is done: in one pass, whatever the length – its stages are live and it is written as it comes –, or in memory.
 * InputError for a chain that is only played.
 */
export function wayOf(catalogue: Catalogue, { chain, region, held }: RenderJob): 'one pass' | 'in memory' {
  refusePlayedOnly(catalogue, chain);
  return region === undefined && held !== true && canStream(catalogue, chain) ? 'one pass' : 'in memory';
}

/** Renders a job in memory: a chain over a sound or over a region of it, spliced back into a copy where that is asked for. */
export function renderJob(
  catalogue: Catalogue,
  { region, ...request }: RenderRequest & Pick<RenderJob, 'region'>,
): RenderProcess {
  return region ? renderRegion(catalogue, { ...request, ...region }) : renderChain(catalogue, request);
}
