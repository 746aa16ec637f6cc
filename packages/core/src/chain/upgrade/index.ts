/** Brings chain documents of earlier versions up to the present one, a step a version, so that each still opens. */
import { fromVersion1 } from './fromVersion1.ts';
import type { Json } from './json.ts';

/** From the version of that number to the next; a step knows nothing of any later one. */
const STEPS: Readonly<Record<number, (json: Json) => Json>> = { 1: fromVersion1 };

/** A document as it would be written in version `to`. */
export function upgraded(json: Json, to: number): Json {
  let document = json;
  for (let version = Number(json['version']); version < to; version++)
    document = { ...STEPS[version](document), version: version + 1 };
  return document;
}
