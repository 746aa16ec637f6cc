/** What the error codes of a system (POSIX) mean for somebody whose file could not be made or written. */
const MEANINGS: Readonly<Record<string, string>> = {
  EACCES: 'it may not be written there',
  EPERM: 'it may not be written there',
  EROFS: 'this disk can only be read',
  ENOTDIR: 'part of this path is a file and no folder',
  ENOENT: 'there is no such folder, and none can be made there',
  EEXIST: 'a file is there, and no folder',
  ENAMETOOLONG: 'the name is too long for this disk',
  ENOSPC: 'the disk is full',
  EDQUOT: 'your share of the disk is used up',
  EFBIG: 'a file gets larger than is allowed there',
  EIO: 'the disk does not answer as it should',
};

/** The meaning of an error's code, as the end of a sentence; undefined for one that is not about the disk. */
export function diskFault(error: unknown): string | undefined {
  return MEANINGS[(error as { readonly code?: string } | undefined)?.code ?? ''];
}
