interface DiskFault {
  /** What is wrong, as the end of a sentence. */
  readonly fault: string;
  /** What can be done about it, as the beginning of one. */
  readonly remedy: string;
}

const of = (fault: string, remedy: string): DiskFault => ({ fault, remedy });

/** What the error codes of a system (POSIX) mean for somebody whose file could not be made or written. */
const FAULTS: Readonly<Record<string, DiskFault>> = {
  EACCES: of('it may not be written there', 'allow it'),
  EPERM: of('it may not be written there', 'allow it'),
  EROFS: of('this disk can only be read', 'make it writable'),
  ENOTDIR: of('part of this path is a file and no folder', 'correct it'),
  ENOENT: of('there is no such folder, and none can be made there', 'correct it'),
  EEXIST: of('a file is there, and no folder', 'move it away'),
  ENAMETOOLONG: of('the name is too long for this disk', 'take a shorter one'),
  ENOSPC: of('the disk is full', 'free some space'),
  EDQUOT: of('your share of the disk is used up', 'free some space'),
  EFBIG: of('a file gets larger than is allowed there', 'raise that limit'),
  EIO: of('the disk does not answer as it should', 'look after it'),
};

/** An error's code in words; undefined for one that is not about the disk. */
export function diskFault(error: unknown): DiskFault | undefined {
  return FAULTS[(error as { readonly code?: string } | undefined)?.code ?? ''];
}
