import { expect, test } from 'vitest';
import { STAGES } from './builtin/index.ts';
import { groupsOf } from './groups.ts';

test.each(STAGES.map((stage) => [stage.kind, stage] as const))(
  '%s: every parameter stands in one group',
  (_, stage) => {
    const groups = groupsOf(stage);
    const shown = groups.flatMap(({ params }) => params.map(([key]) => key));
    expect([...shown].sort()).toEqual(Object.keys(stage.params).sort());
    // What has more rows than are seen at once is parted.
    if (Object.keys(stage.params).length > 9) expect(groups.length).toBeGreaterThan(1);
    for (const { title } of groups) expect(title).toBe(title.toLowerCase());
  },
);
