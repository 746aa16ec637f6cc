/** Counts the bytes that a piece of work takes on the heap, whether or not they are given back. For tests. */
import { Session } from 'node:inspector/promises';

interface Node {
  readonly callFrame: { readonly functionName: string; readonly url: string };
  readonly selfSize: number;
  readonly children: readonly Node[];
}

/** Bytes allocated inside the core's own files while `work` runs. */
export async function bytesAllocated(work: () => void): Promise<number> {
  const session = new Session();
  session.connect();
  try {
    await session.post('HeapProfiler.startSampling', {
      samplingInterval: 4096,
      includeObjectsCollectedByMajorGC: true,
      includeObjectsCollectedByMinorGC: true,
    } as never);
    work();
    const { profile } = (await session.post('HeapProfiler.stopSampling')) as unknown as { profile: { head: Node } };
    return sum(profile.head);
  } finally {
    session.disconnect();
  }
}

function sum(node: Node): number {
  const own = /packages\/core\/src\/(?!testing)/.test(node.callFrame.url) ? node.selfSize : 0;
  return node.children.reduce((total, child) => total + sum(child), own);
}
