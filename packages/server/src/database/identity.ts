import { monotonicFactory } from 'ulid';

/** Identifiers that sort by the time they were made. */
export const newId = monotonicFactory();

export function now(): string {
  return new Date().toISOString();
}
